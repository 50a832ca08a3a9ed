import type { Difference, Rehearsal, ReplayedSave, RunEvent } from '@patient-hook/contract'
import { describe, expect, test } from 'vitest'
import { compareRuns } from '../src/lib/run/compare-runs'
import { groupsOf } from '../src/lib/run/replay-groups'
import { stepsOf } from '../src/lib/run/steps'
import { groupVerdicts } from '../src/lib/run/verdict-groups'

/** The readers of a recorded run. */

const run = (more: Partial<Rehearsal>): Rehearsal => ({
  save: null,
  kept: false,
  error: null,
  refusals: [],
  records: [],
  rows: [],
  verdicts: [],
  lookups: [],
  sent: [],
  logs: [],
  spent: { queries: 1, rowsRead: 1, rowsWritten: 1, steps: 5, ripples: 0, ms: 1 },
  limits: { queries: 1, rowsRead: 1, rowsWritten: 1, steps: 5, ripples: 0, ms: 1 },
  ran: {},
  took: {},
  log: null,
  ...more,
})
const verdict = (hook: string, id: number, reason = '') => ({
  hook,
  table: 'lot',
  id,
  depth: 0,
  verdict: reason ? ('skipped' as const) : ('ran' as const),
  reason,
})

describe('steps', () => {
  const file = 'plugins/p/hooks/h.ts'
  const events: RunEvent[] = [
    { kind: 'part', hook: 'h', part: 'each', depth: 0, pass: 1 },
    { kind: 'row', table: 'lot', id: 3 },
    { kind: 'line', file, line: 6 },
    { kind: 'value', file, line: 6, name: 'a', text: '2', json: 2 },
    { kind: 'line', file, line: 7 },
    { kind: 'set', file, line: 7, field: 'bay', from: 'A', to: 'B' },
    { kind: 'refuse', file, line: 8, field: 'bay', message: 'no' },
  ]
  const rows: Rehearsal['rows'] = [
    {
      table: 'lot',
      id: 3,
      event: 'update',
      depth: 0,
      row: 1,
      was: { id: 3, bay: 'A', mass: 1 },
      now: { id: 3, bay: 'B', mass: 2 },
      changes: [
        { field: 'bay', from: 'A', to: 'B', by: 'h', kind: 'hook' },
        { field: 'mass', from: 1, to: 2, by: 'typed', kind: 'typed' },
      ],
    },
  ]
  test('each line with the variables and the record as they was', () => {
    const steps = stepsOf({ log: { events, leftOut: 0 }, rows })
    expect(steps.map(({ line, set, did }) => [line, set, did])).toEqual([
      [6, [], []],
      [7, ['bay'], []],
      [8, [], ['refuse bay: no']],
    ])
    expect(steps[0]).toMatchObject({ variables: [{ name: 'a', text: '2' }], record: { bay: 'A', mass: 2 } })
    expect(steps[1]!.record).toMatchObject({ bay: 'B', mass: 2 })
  })
  test('without a log there are none', () => expect(stepsOf({ log: null, rows })).toEqual([]))
})

test('verdicts that are the same stand together', () => {
  const groups = groupVerdicts([verdict('a', 1), verdict('a', 2), verdict('b', 1, 'off'), verdict('b', 2, 'no value')], [])
  expect(groups.map(({ hook, reason, all }) => [hook, reason, all.length])).toEqual([
    ['a', '', 2],
    ['b', 'off', 1],
    ['b', 'no value', 1],
  ])
})

describe('comparison', () => {
  const base = run({
    rows: [
      {
        table: 'lot',
        id: 1,
        event: 'update',
        depth: 0,
        row: 1,
        was: null,
        now: null,
        changes: [{ field: 'bay', from: null, to: 'A', by: 'h', kind: 'hook' }],
      },
    ],
    verdicts: [verdict('h', 1)],
    lookups: [{ hook: 'h', part: 'load', call: 'byId', table: 'site', asked: { ids: [1] }, found: 1, ids: [1], depth: 0 }],
  })
  test('the same run differs in nothing', () => expect(compareRuns(base, run({ ...base }))).toEqual([]))
  test('new records are reported by their row, whatever ids they would get', () => {
    const made = (id: number, bay: string) =>
      run({
        rows: [
          {
            ...base.rows[0]!,
            id,
            event: 'create',
            row: 1,
            changes: [{ field: 'bay', from: null, to: bay, by: 'h', kind: 'hook' }],
          },
        ],
        verdicts: [verdict('h', id)],
      })
    expect(compareRuns(made(5, 'A'), made(9, 'A'))).toEqual([])
    expect(compareRuns(made(5, 'A'), made(9, 'B'))).toMatchObject([{ kind: 'value', where: 'new lot, row 1.bay' }])
  })
  test('cells, verdicts, look-ups, refusals and counts', () => {
    const other = run({
      rows: [{ ...base.rows[0]!, changes: [{ field: 'bay', from: null, to: 'B', by: 'g', kind: 'hook' }] }],
      verdicts: [verdict('h', 1, 'switched off')],
      refusals: [{ code: 'check/required', message: 'Bay is required', todo: '', table: 'lot', row: 1, field: 'bay' }],
      spent: { ...base.spent, queries: 3 },
    })
    expect(compareRuns(base, other).map(({ kind, before, after }) => [kind, before, after])).toEqual([
      ['value', '"A" (h)', '"B" (g)'],
      ['verdict', 'ran', 'skipped: switched off'],
      ['look-up', '1 found for {"ids":[1]}', null],
      ['refusal', null, 'Bay is required'],
      ['count', '1', '3'],
    ])
  })
})

describe('saves that were run again', () => {
  const value = (id: number, byNow: string | null, byThen: string | null): Difference => ({
    kind: 'value',
    table: 'lot',
    id,
    field: 'net',
    then: 1,
    now: 2,
    byThen,
    byNow,
  })
  const save = (number: number, ...differences: Difference[]): ReplayedSave => ({
    save: number,
    at: '2026-01-01T00:00:00.000Z',
    user: 'ada',
    outcome: 'different',
    error: null,
    rows: [],
    differences,
    differing: differences.length,
  })
  test('the differences is grouped by field and the hook whose doing it is, the most frequent first', () => {
    const groups = groupsOf([
      save(1, { kind: 'message', channel: 'desk', hook: 'tell', then: null, now: {} }),
      save(2, value(1, 'mass', 'mass'), value(2, 'typed', 'mass')),
      save(3, value(1, null, 'typed'), {
        kind: 'record',
        table: 'slip',
        id: 1,
        then: 'created',
        now: 'untouched',
        by: ['slips'],
      }),
    ])
    expect(groups.map(({ what, hook, members }) => [what, hook, members.map((each) => each.save.save)])).toEqual([
      ['lot.net', 'mass', [2, 2]],
      ['lot.net', null, [3]],
      ['messages to desk', 'tell', [1]],
      ['slip records', 'slips', [3]],
    ])
  })
})
