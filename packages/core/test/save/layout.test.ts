import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readHistory } from '../../src/save/history.js'
import type { InputRow } from '../../src/save/types.js'
import { flag, integer, link, number, text, World } from '../world.js'

/** Rows that set the same fields as the row before are taken by code made for those fields: in what they do, nothing is seen of it. */

const FIELDS = {
  name: text,
  count: integer,
  mass: { ...number, default: 2.5 },
  open: flag,
  day: { ...text, format: 'date' },
  seen: { ...text, format: 'date-time' },
  state: { ...text, enum: ['new', 'old'], default: 'new' },
  shelf: link('shelf'),
}
const source = { tables: { shelf: { fields: { label: text } }, item: { fields: FIELDS } } }

function world(): World {
  const made = new World(source)
  made.put('shelf', { label: 'A' }, { label: 'B' })
  made.put('item', ...Array.from({ length: 8 }, (_, i) => ({ name: `item ${i}`, count: i, seen: '2026-01-01T00:00:00Z' })))
  return made
}

/** What fits some fields and not others, and what fits in another form than it is kept in. */
const VALUES = [
  ...[null, undefined, 'new', 'old', 'x', '', '\ud800', 0, -0, 1, 2, 9, 2.5, Number.NaN, Infinity, true, false],
  ...['2026-02-28', '2026-02-30', '2026-01-01T00:00:00Z', '2026-01-01T01:00:00+01:00', '2026-01-01T00:00:00.5Z', [], {}],
  { ref: 'header' },
] as unknown[]

const names = fc.shuffledSubarray([...Object.keys(FIELDS), 'nmae', 'id'], { maxLength: 6 })
const row = (fields: readonly string[], id: number) =>
  fc
    .array(fc.constantFrom(...VALUES), { minLength: fields.length, maxLength: fields.length })
    .map((values) => Object.fromEntries(fields.map((field, index) => [field, field === 'id' ? id : values[index]])))
/** Runs of rows with the same fields, some of them updates. */
const inputs = fc
  .array(fc.tuple(names, fc.integer({ min: 1, max: 4 })), { minLength: 1, maxLength: 4 })
  .chain((runs) => {
    let id = 0
    return fc.tuple(...runs.flatMap(([fields, times]) => Array.from({ length: times }, () => row(fields, (id++ % 8) + 1))))
  })
  .map((rows) => {
    const seen = new Set<unknown>()
    return rows.filter(({ id }) => id === undefined || (!seen.has(id) && seen.add(id)))
  })

/** What became of each row: its values, who set them, or why it was refused. New records are named by their row. */
function told(made: World, given: readonly { row: InputRow; number: number }[]) {
  const { records, refusals, rows } = made.run(
    given.map((each) => each.row),
    { partial: true },
  )
  return given.map(({ number, row: { values } }, index) => {
    const record = records[index]
    const refused = refusals.filter((refusal) => refusal.row === index + 1).map(({ code, field }) => ({ code, field }))
    if (!record) return { number, refused }
    const { id, ...rest } = record
    const [entry] = readHistory(made.store, 'item', id).filter((each) => each.save > 2)
    const changes = entry?.changes.map(({ field, from, to, by }) => ({ field, from, to, by }))
    const noted = rows.find((each) => each.row === index + 1)?.changes
    return { number, record: values?.['id'] === undefined ? rest : record, refused, changes, noted }
  })
}

describe('rows of one save', () => {
  test('come out as if each were saved alone', () => {
    let taken = 0
    fc.assert(
      fc.property(inputs, (rows) => {
        const given = rows.map((values, index) => ({ row: { table: 'item', values } as InputRow, number: index + 1 }))
        const together = told(world(), given)
        const alone = world()
        expect(together).toEqual(given.flatMap((each) => told(alone, [each])))
        taken += together.filter(({ record }) => record).length
      }),
      { numRuns: 400 },
    )
    // Most properties of this kind would hold if nothing were ever saved.
    expect(taken).toBeGreaterThan(200)
  })

  test('name each other by `as`, also where the rows before did not', () => {
    const { records } = world().run([
      { table: 'item', values: { name: 'a', shelf: 1 } },
      { table: 'item', values: { name: 'b', shelf: 2 } },
      { table: 'shelf', as: 'new', values: { label: 'C' } },
      { table: 'item', values: { name: 'c', shelf: { ref: 'new' } } },
      { table: 'item', values: { name: 'd', shelf: 1 } },
    ])
    expect(records.map((record) => record?.['shelf'])).toEqual([1, 2, undefined, 3, 1])
  })
})
