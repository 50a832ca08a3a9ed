import { Ajv2020 } from 'ajv/dist/2020.js'
import addFormats from 'ajv-formats'
import Big from 'big.js'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { parseTable } from '../../src/model/table-file.js'
import { isMultipleOf } from '../../src/model/decimals.js'
import { boundsProblem, fitsType } from '../../src/model/values.js'

/** Our checks of values against ajv (with ajv-formats), a JSON Schema validator we did not write. */

const schemas = [
  { type: 'string', minLength: 2, maxLength: 4 },
  { type: 'string', pattern: '^[a-c]+$' },
  { type: 'string', enum: ['a', 'bb', ''] },
  { type: 'string', format: 'date' },
  { type: 'string', format: 'date-time' },
  { type: 'integer', minimum: -2, maximum: 5 },
  { type: 'integer', multipleOf: 3 },
  { type: 'number', exclusiveMinimum: 0, exclusiveMaximum: 2.5 },
  { type: 'number', multipleOf: 0.1 },
  { type: 'number', enum: [1, 2.5] },
  { type: 'boolean' },
]
const digits = (length: number) => fc.stringMatching(new RegExp(`^[0-9]{${length}}$`))
const dateLike = fc
  .tuple(fc.constantFrom('2024', '2023', '1900', '2000', '0000'), digits(2), digits(2))
  .map((parts) => parts.join('-'))
const timeLike = fc
  .tuple(
    fc.constantFrom('00', '09', '23', '24'),
    fc.constantFrom('00', '59', '60'),
    fc.constantFrom('00', '59', '60', '61', '59.5'),
    fc.constantFrom('Z', 'z', '+02:00', '-00:01', '+24:00', ''),
  )
  .map(([h, m, s, zone]) => `${h}:${m}:${s}${zone}`)
const value = fc.oneof(
  fc.string({ maxLength: 6 }),
  fc.string({ unit: 'grapheme', maxLength: 5 }),
  fc.constantFrom('a', 'bb', 'abc', '😀😀😀', ''),
  fc.integer({ min: -10, max: 10 }),
  fc.double({ noNaN: true, min: -1e15, max: 1e15 }),
  fc.constantFrom(0.1, 0.3, 0.7, 1.1, 2.5, 1, 5e-11),
  fc.boolean(),
  dateLike,
  fc.tuple(dateLike, timeLike).map(([d, t]) => `${d}T${t}`),
  fc.constantFrom('2024-02-29', '2023-02-29', '2016-12-31T23:59:60Z'),
)

test('types, enums, formats and bounds agree with ajv on 20,000 values', () => {
  const ajv = new Ajv2020({ strict: true })
  addFormats.default(ajv)
  const pairs = schemas.map((schema) => {
    const [field] = parseTable('tables/t.json', JSON.stringify({ type: 'object', properties: { f: schema } })).fields
    return { schema, field: field!, validate: ajv.compile(schema) }
  })
  let valid = 0
  fc.assert(
    fc.property(fc.constantFrom(...pairs), value, ({ schema, field, validate }, given) => {
      const ours = fitsType(field, given) && (given === null || boundsProblem('t', field, given) === null)
      // Ajv divides with a tolerance; multiples are held against decimal arithmetic below.
      if ('multipleOf' in schema && typeof given === 'number') return
      if (ours) valid++
      expect([schema, given, ours]).toEqual([schema, given, validate(given)])
    }),
    { numRuns: 20_000, seed: 5 },
  )
  expect(valid).toBeGreaterThan(1000)
})

test('multiples agree with decimal arithmetic (big.js) on 20,000 amounts', () => {
  const step = fc.constantFrom(0.01, 0.1, 0.05, 1, 3, 0.25, 1e-7, 1000, 0.3)
  const amount = fc.oneof(
    fc.integer({ min: -1e9, max: 1e9 }).map((cents) => cents / 100),
    fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e12, max: 1e12 }),
    fc.constantFrom(111848.18, 1e-7, 0.3, 1e308, 5e-324, -0.01, 0),
    fc.integer(),
  )
  let multiples = 0
  fc.assert(
    fc.property(amount, step, (value, of) => {
      const exact = new Big(value).mod(of).eq(0)
      if (exact) multiples++
      expect([value, of, isMultipleOf(value, of)]).toEqual([value, of, exact])
    }),
    {
      numRuns: 20_000,
      seed: 11,
      examples: [
        [111848.18, 0.01],
        [1e-7, 1000],
        [0.3, 0.1],
      ],
    },
  )
  expect(multiples).toBeGreaterThan(2000)
})

test('date-times are those of RFC 3339: T between date and time, a colon in the offset', () => {
  const [field] = parseTable(
    'tables/t.json',
    JSON.stringify({ type: 'object', properties: { f: { type: 'string', format: 'date-time' } } }),
  ).fields
  expect(['2024-01-01T10:00:00Z', '2024-01-01t10:00:00.5+02:00'].map((text) => fitsType(field!, text))).toEqual([true, true])
  for (const text of ['2024-01-01 10:00:00Z', '2024-01-01T10:00:00+02', '2024-01-01T10:00:00+0200', '2024-01-01T10:00Z'])
    expect([text, fitsType(field!, text)]).toEqual([text, false])
})

test('integers beyond 2^53 are refused, which ajv lets pass: SQLite and JSON could not keep them exactly', () => {
  const [field] = parseTable('tables/t.json', JSON.stringify({ type: 'object', properties: { f: { type: 'integer' } } })).fields
  expect(fitsType(field!, 2 ** 53)).toBe(false)
})
