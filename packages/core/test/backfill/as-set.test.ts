import type { BackfillWish } from '@patient-hook/contract'
import fc from 'fast-check'
import { expect, test, vi } from 'vitest'
import { saveBatch } from '../../src/backfill/batch.js'
import { noFigures } from '../../src/backfill/figures.js'
import type { Value } from '../../src/model/types.js'
import { flag, hook, integer, link, number, text, World, type Source } from '../world.js'

/**
 * Batches of a backfill in which nothing looks at the single record are written as a set. Where each record is reported, they go one at a time: both must
 * leave the same records, history, series, figures and reasons.
 */

const tables: Source['tables'] = {
  box: { fields: { name: text } },
  item: {
    fields: {
      code: { ...text, 'x-unique': true, maxLength: 6 },
      name: { ...text, pattern: '^[^!]*$' },
      kind: text,
      size: { ...integer, maximum: 50 },
      mass: number,
      open: flag,
      box: link('box'),
    },
  },
}
const before = (body: string) => hook(`{ table: 'item', moment: 'before-save', ${body} }`)
const hooks: Record<string, string> = {
  codeNull: before(`only: row => row.now.code === null, each(row) { row.now.kind = 'no code' }`),
  codeEnds: before(`only: row => row.now.code?.endsWith('7') ?? false, each(row) { row.now.kind = 'seven' }`),
  other: before(`only: row => row.now.size > 3, each(row) { row.now.kind = 'big' }`),
  was: before(`only: row => row.was.code === 'C-3', each(row) { row.now.kind = 'was' }`),
  swallows: before(
    `only: row => { try { return row.now.size > 3 } catch { return false } }, each(row) { row.now.kind = 'swallowed' }`,
  ),
  keys: before(`only: row => Object.keys(row.now).includes('size') && row.now.size === 2, each(row) { row.now.kind = 'keys' }`),
  changed: before(`only: row => row.changed('open'), each(row) { row.now.kind = 'opened' }`),
  byId: before(`only: row => row.id === 2 && row.event === 'update', each(row) { row.now.kind = 'two' }`),
  throws: before(`only: row => { if (row.now.code === 'C-2') throw new Error('no'); return false }, each() {}`),
  asleep: before(`watch: ['kind'], each(row) { row.now.name = 'woken' }`),
  refuses: before(`watch: ['size'], each(row) { if (row.now.size === 7) row.refuse('size', 'no sevens') }`),
  tells: hook(`{ table: 'item', moment: 'after-save', watch: ['open'], each(row, _, { send }) { send('m', row.id) } }`),
  ends: hook(
    `{ table: 'item', moment: 'before-commit', watch: ['mass'], each(row) { if (row.now.mass === 1) row.refuse('mass', 'no') } }`,
  ),
}
const project = {
  batchSize: 3,
  sequences: {
    code: { prefix: 'C-', digits: 1, start: 1 },
    other: { prefix: 'D-', digits: 1, start: 8 },
    same: { prefix: 'C-', digits: 1, start: 2 },
  },
}

const item = fc.record({
  code: fc.option(fc.constantFrom('C-2', 'C-3', 'D-8', 'x'), { nil: null }),
  name: fc.option(fc.constantFrom('a', 'b!', 'é"'), { nil: null, freq: 1 }),
  kind: fc.option(fc.constantFrom('p', 'q', 'r'), { nil: null }),
  size: fc.option(fc.constantFrom(1, 2, 7, 40, 60), { nil: null }),
  mass: fc.option(fc.constantFrom(0, 0.1, 1, 1e21), { nil: null }),
  open: fc.option(fc.boolean(), { nil: null }),
  box: fc.option(fc.constantFrom(1, 2), { nil: null }),
})
const set = fc.constantFrom<Record<string, Value>>(
  { size: 7 },
  { size: 3 },
  { size: 99 },
  { open: true },
  { open: null, mass: 0.1 },
  { mass: 1 },
  { name: 'é', kind: 'p' },
  { name: 'a!' },
  { box: 2 },
  { box: 9 },
  { code: 'one' },
  { code: null, size: 2 },
)
const numbering = fc.constantFrom<NonNullable<BackfillWish['number']>>(
  { field: 'code', series: 'code' },
  { field: 'code', series: { by: 'kind', of: { p: 'code', q: 'other', r: 'same' } } },
  { field: 'code', series: { by: 'kind', of: { p: 'code', null: 'other' } } },
  { field: 'name', series: 'code' },
)
const wishes = fc.oneof(
  set.map((values) => ({ set: values })),
  numbering.map((number) => ({ number })),
)

interface Case {
  items: Record<string, Value>[]
  what: Partial<BackfillWish>
  chosen: string[]
  where: BackfillWish['where']
}

function run({ items, what, chosen, where }: Case, singly: boolean) {
  const world = new World({ project, tables, hooks: Object.fromEntries(chosen.map((name) => [name, hooks[name]!])) })
  const { store, environment } = world
  world.load('box', [{ id: 1 }, { id: 2 }])
  const codes = new Set<unknown>()
  const unlike = items.map((each, index) => {
    const code = codes.has(each['code']) ? null : each['code']
    codes.add(code)
    return { ...each, code, id: index + 1 }
  })
  world.load('item', unlike)
  const written = vi.spyOn(store, 'run')
  const figures = noFigures()
  const table = environment.project.tables.get('item')!
  const wish: BackfillWish = { table: 'item', where, order: [], withEffects: false, withMessages: false, ...what }
  let left: unknown
  let failure: unknown = null
  try {
    left = saveBatch(
      environment,
      table,
      wish,
      items.map((_, index) => index + 1),
      figures,
      {
        user: 'owner',
        job: 1,
        samples: singly ? 99 : 0,
      },
    ).left
  } catch (error) {
    failure = (error as { report?: { code: string } }).report?.code ?? error
  }
  const asSet = written.mock.calls.some(([sql]) => sql.includes('INSERT INTO ph_history'))
  const state = {
    failure,
    left,
    figures,
    items: world.all('item'),
    history: world.all('ph_history').map(({ record, event, depth, cause, patch }) => [record, event, depth, cause, patch]),
    saves: store.objects('SELECT rows, user, job FROM ph_save'),
    sequences: store.objects('SELECT * FROM ph_sequence ORDER BY name'),
  }
  return { state, asSet }
}

test('a batch as a set leaves what its records one at a time leave', () => {
  let sets = 0
  const cases = fc.record({
    items: fc.array(item, { minLength: 1, maxLength: 7 }),
    what: wishes,
    chosen: fc.subarray(Object.keys(hooks), { maxLength: 2 }),
    where: fc.constantFrom<BackfillWish['where']>({}, { size: { not: 1 } }),
  })
  fc.assert(
    fc.property(cases, (given) => {
      const [set, single] = [run(given, false), run(given, true)]
      if (set.asSet) sets++
      expect(single.asSet).toBe(false)
      expect(set.state).toEqual(single.state)
    }),
    { numRuns: 800 },
  )
  expect(sets).toBeGreaterThan(40)
})
