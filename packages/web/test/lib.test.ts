import type { ErrorReport, HookInfo, LineTrace, RowOut, VerdictGroup } from '@patient-hook/contract'
import { describe, expect, test } from 'vitest'
import { cellAfter } from '../src/lib/cell-keys'
import { lineValues } from '../src/lib/line-values'
import { countPath, refusedAt } from '../src/lib/path-counts'
import { placeOf, show } from '../src/lib/text'

/** What the views show, computed without a page. */

describe('the cell that a key leads to', () => {
  const from = { row: 1, column: 1 }
  test.each([
    ['ArrowUp', { row: 0, column: 1 }],
    ['ArrowDown', { row: 2, column: 1 }],
    ['ArrowLeft', { row: 1, column: 0 }],
    ['ArrowRight', { row: 1, column: 2 }],
    ['PageDown', { row: 3, column: 1 }],
    ['PageUp', { row: 0, column: 1 }],
    ['Home', { row: 1, column: 0 }],
    ['End', { row: 1, column: 2 }],
    ['a', null],
  ])('%s', (key, cell) => {
    expect(cellAfter(key, from, 4, 3)).toEqual(cell)
  })
  test('is the first, when none was chosen', () => {
    expect(cellAfter('End', null, 4, 3)).toEqual({ row: 0, column: 0 })
  })
  test('stays within the grid, and is none in an empty one', () => {
    expect(cellAfter('ArrowUp', { row: 0, column: 0 }, 4, 3)).toEqual({ row: 0, column: 0 })
    expect(cellAfter('ArrowRight', { row: 3, column: 2 }, 4, 3)).toEqual({ row: 3, column: 2 })
    expect(cellAfter('ArrowRight', null, 0, 3)).toBeNull()
    expect(cellAfter('ArrowRight', null, 3, 0)).toBeNull()
  })
})

const hooks = [
  { name: 'fill', moment: 'before-save' },
  { name: 'push', moment: 'after-save' },
  { name: 'whole', moment: 'before-commit' },
] as HookInfo[]
const refusal = (code: string, more: Partial<ErrorReport> = {}): ErrorReport =>
  ({ code, message: 'no', todo: 'fix it', ...more }) as ErrorReport

describe('the counts of the save path', () => {
  test.each([
    [refusal('save/unknown-field'), 'typed'],
    [refusal('check/required'), 'checks'],
    [refusal('check/linked'), 'before-commit'],
    [refusal('hook/refused', { hook: 'fill' }), 'before-save'],
    [refusal('hook/refused', { hook: 'whole' }), 'before-commit'],
    [refusal('hook/refused', { hook: 'gone' }), 'before-save'],
  ])('%o is refused at %s', (report, station) => {
    expect(refusedAt(report, hooks)).toBe(station)
  })

  const row = (id: number, event: RowOut['event'], changes: number): RowOut =>
    ({ table: 'lot', id, event, depth: 0, row: id, was: null, now: null, changes: Array.from({ length: changes }) }) as RowOut
  const facts = {
    rows: [row(1, 'create', 0), row(2, 'update', 2), row(3, 'update', 0), row(4, 'update', 1)],
    ripples: [row(9, 'update', 1)],
    verdicts: [
      { hook: 'fill', verdict: 'ran', ids: [1, 2, 4] },
      { hook: 'fill', verdict: 'skipped', ids: [3] },
      { hook: 'push', verdict: 'ran', id: 2 },
      { hook: 'gone', verdict: 'ran', ids: [1] },
    ] as VerdictGroup[],
    refusals: [refusal('hook/refused', { hook: 'fill', table: 'lot', row: 4 })],
    failed: false,
    kept: true,
  }
  const at = (counts: ReturnType<typeof countPath>, station: string) => counts.find((each) => each.station === station)!

  test('say how many ran, slept, were refused, and were written', () => {
    const counts = countPath(facts, hooks)
    expect(at(counts, 'typed').words).toBe('4 rows')
    expect(at(counts, 'before-save')).toMatchObject({ ran: 3, skipped: 1, refused: 1 })
    // Not the one that did not change, and not the refused one.
    expect(at(counts, 'write').words).toBe('2 rows')
    expect(at(counts, 'after-save')).toMatchObject({ ran: 1, skipped: 0, refused: 0 })
    expect(at(counts, 'ripples').words).toBe('1 row')
    expect(at(counts, 'commit').words).toBe('kept')
  })
  test.each([
    [{ kept: false }, 'rolled back'],
    [{ kept: false, failed: true }, 'failed'],
  ])('say of %o how it ended', (more, words) => {
    expect(at(countPath({ ...facts, ...more }, hooks), 'commit').words).toBe(words)
  })
})

describe('what stands beside a line of code', () => {
  const value = (name: string, first: string, last = first, count = 1) => ({ name, first, last, count })
  const trace = (line: number, more: Partial<LineTrace>): LineTrace =>
    ({ file: 'a.ts', hook: 'fill', line, turns: 0, runs: 1, of: 'row', values: [], ...more }) as LineTrace
  const texts = (...lines: LineTrace[]) => lineValues(lines, 'a.ts', 'fill').map((each) => each.text)

  test.each([
    [trace(1, { values: [value('row.now.bay', '"A1"')] }), 'bay = "A1"'],
    [trace(1, { values: [value('if', 'true')] }), 'true'],
    [trace(1, { values: [value('return', '5')] }), '→ 5'],
    [trace(1, { turns: 3, values: [value('part', '3', '5', 3)] }), '×3 · part 3 … 5'],
    [trace(1, { values: [value('sum', '3', '3', 3)] }), 'sum = 3'],
    [trace(1, { values: [value('log()', 'undefined')] }), 'ran'],
    [trace(1, { runs: 4 }), 'ran ×4'],
  ])('%o', (line, text) => {
    expect(texts(line)).toEqual([text])
  })
  test('is of the open file and hook only, and of lines that ran', () => {
    expect(texts(trace(1, { file: 'b.ts' }), trace(2, { hook: 'other' }), trace(3, { runs: 0 }))).toEqual([])
  })
  test('is cut where it is long, and told in full in the title', () => {
    const [found] = lineValues([trace(1, { of: 'batch', values: [value('x', '"' + 'a'.repeat(200) + '"')] })], 'a.ts', 'fill')
    expect(found!.text).toHaveLength(90)
    expect(found!.text.endsWith('…')).toBe(true)
    expect(found!.title).toContain('a'.repeat(200))
    expect(found!.title).toContain('For the whole batch')
  })
})

describe('values and places as people read them', () => {
  test.each([
    [null, '—'],
    [undefined, '—'],
    [true, 'yes'],
    [false, 'no'],
    ['', '""'],
    [0, '0'],
    ['A1', 'A1'],
  ])('%o is shown as %s', (value, text) => {
    expect(show(value)).toBe(text)
  })
  test('a place has file and line, table, row and field, as far as they are known', () => {
    const all = { file: 'plugins/vault/hooks/a.ts', line: 4, table: 'lot', row: 2, id: 7, field: 'bay' }
    expect(placeOf(refusal('hook/threw', all))).toBe('vault/hooks/a.ts, line 4 · lot, row 2 (id 7) · field bay')
    expect(placeOf(refusal('hook/threw', { file: 'project.json' }))).toBe('project.json')
    expect(placeOf(refusal('hook/threw'))).toBe('')
  })
})
