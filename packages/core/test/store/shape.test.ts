import fc from 'fast-check'
import { expect, test } from 'vitest'
import { parseTable } from '../../src/model/table-file.js'
import type { RecordValues, Value } from '../../src/model/types.js'
import { shapeOf } from '../../src/store/shape.js'

/** What is written by code that is made for a table is what the language itself gives. */

const TYPES = { name: 'string', count: 'integer', mass: 'number', open: 'boolean' } as const
const properties = Object.fromEntries(Object.entries(TYPES).map(([name, type]) => [name, { type }]))
const shape = shapeOf(parseTable('tables/item.json', JSON.stringify({ type: 'object', properties })))

const orNull = <T>(values: fc.Arbitrary<T>) => fc.option(values, { nil: null })
const record = fc
  .record({
    id: fc.integer({ min: 1, max: Number.MAX_SAFE_INTEGER }),
    name: orNull(fc.string({ unit: 'binary' })),
    count: orNull(fc.maxSafeInteger()),
    mass: orNull(fc.double({ noNaN: true, noDefaultInfinity: true })),
    open: orNull(fc.boolean()),
  })
  .map(({ id, ...values }) => Object.assign(shape.empty(id), values as Record<string, Value>) as RecordValues)

test('JSON of a record is what JSON.stringify gives, which is the standard’s own', () => {
  fc.assert(
    fc.property(record, (made) => {
      expect(shape.json(made)).toBe(JSON.stringify(shape.plain(made)))
    }),
    { numRuns: 1000 },
  )
})

test('who set the fields of two records is alike where each was set by the same', () => {
  const setters = fc.record({ name: fc.nat(2), count: fc.nat(2), mass: fc.nat(2), open: fc.nat(2) })
  fc.assert(
    fc.property(setters, setters, (a, b) => {
      expect(shape.setAlike(a, b)).toBe(JSON.stringify(a) === JSON.stringify(b))
      expect(shape.setAlike(a, { ...a })).toBe(true)
    }),
  )
  expect(shape.nobody()).toEqual({ name: 0, count: 0, mass: 0, open: 0 })
})

test('records differ in fields that are asked for, and in no others', () => {
  const names = fc.shuffledSubarray(Object.keys(TYPES))
  fc.assert(
    fc.property(record, record, names, (a, b, asked) => {
      expect(shape.differIn(asked)(a, b)).toBe(asked.some((name) => a[name] !== b[name]))
    }),
  )
})
