import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Value } from '../../src/model/types.js'
import { flag, hook, integer, number, text, World } from '../world.js'

/** A unique value given twice is a refusal that names the field, whatever the value is; never an error of the database. */

const unique = (field: object) => ({ ...field, 'x-unique': true })
const start = (field: object) => new World({ tables: { t: { fields: { v: unique(field) } } } })

const values: [string, object, fc.Arbitrary<Value>][] = [
  [
    'number',
    number,
    fc.oneof(
      fc.double({ noNaN: true, noDefaultInfinity: true }),
      fc.constantFrom(-0, 0, 2 ** 53, 2 ** 53 + 2, 2 ** 63, 2 ** 63 - 1024, -(2 ** 63), 9223372036854775000, 1e300, 5e-324, 0.1),
    ),
  ],
  ['integer', integer, fc.oneof(fc.maxSafeInteger(), fc.constantFrom(2 ** 53 - 1, -(2 ** 53) + 1, 0))],
  [
    'text',
    text,
    fc.oneof(
      fc.string({ unit: 'grapheme', maxLength: 4 }),
      fc.string({ unit: 'binary', maxLength: 4 }).filter((each) => (each as string & { isWellFormed(): boolean }).isWellFormed()),
      fc.constantFrom('', 'a\u0000b', 'a\u0000', '\u0000', 'é', 'e\u0301', '1', '1.0'),
    ),
  ],
  ['yes/no', flag, fc.boolean()],
]

test.each(values)('%s', (_, field, value) => {
  fc.assert(
    fc.property(value, (v) => {
      const world = start(field)
      const again = [{ table: 't', values: { v } }]
      world.run(again)
      expect(world.try(again).error?.code).toBe('check/unique')
      const twice = start(field).try([...again, ...again]).error
      expect(twice?.code).toBe('check/unique')
      expect(world.run(again, { partial: true }).refusals.map((refusal) => refusal.code)).toEqual(['check/unique'])
    }),
    { numRuns: 120 },
  )
})

test.each(values)('%s: a look-up finds it, as a value and in a list', (_, field, value) => {
  const look = hook(`{ table: 'ask', moment: 'before-save',
    load: ({ rows, store }) => rows.map((row) => [store.find('t', { v: row.now.v }), store.find('t', { v: { in: [row.now.v] } }), store.find('t', { v: { not: [row.now.v] } })]),
    each(row, found, { log }) { log(found[0].map((each) => each.length).join()) } }`)
  const world = new World({
    tables: { t: { fields: { v: unique(field) } }, ask: { fields: { v: field as Record<string, unknown> } } },
    hooks: { look },
  })
  fc.assert(
    fc.property(value, (v) => {
      world.store.db.exec('DELETE FROM t')
      world.run([{ table: 't', values: { v } }])
      expect(world.run([{ table: 'ask', values: { v } }]).logs[0]!.text).toBe('1,1,0')
    }),
    { numRuns: 100 },
  )
})

describe('sets of fields', () => {
  test('with numbers beyond what SQLite keeps as integers', () => {
    const world = new World({ tables: { t: { fields: { a: number, b: text }, unique: [['a', 'b']] } } })
    const row = { table: 't', values: { a: 9223372036854775000, b: 'x' } }
    world.run([row])
    expect(world.try([row]).error?.code).toBe('check/unique')
  })
})
