import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { HookError } from '../../src/errors.js'
import { parseTable } from '../../src/model/table-file.js'
import { boundsProblem, fitsType } from '../../src/model/values.js'

/**
 * The official JSON Schema Test Suite, 2020-12 (json-schema-org; from Debian's libtest-json-schema-acceptance-perl, which ./check
 * fetches), on fields: every case whose schema uses what a field understands and whose value is one that a field can hold.
 */

const SUITE = join(import.meta.dirname, '../../../../node_modules/.cache/suites/json-schema')
const FILES = [
  'type',
  'enum',
  'const',
  'minimum',
  'maximum',
  'exclusiveMinimum',
  'exclusiveMaximum',
  'multipleOf',
  'minLength',
  'maxLength',
  'pattern',
  'optional/format/date',
  'optional/format/date-time',
  'optional/bignum',
  'optional/float-overflow',
  'optional/ecmascript-regex',
  'optional/non-bmp-regex',
  'optional/unicode',
]
const KEYWORDS = [
  'type',
  'enum',
  'const',
  'minimum',
  'maximum',
  'exclusiveMinimum',
  'exclusiveMaximum',
  'multipleOf',
  'minLength',
  'maxLength',
  'pattern',
  'format',
]
const TEXT = ['minLength', 'maxLength', 'pattern', 'format']
const NUMBER = ['minimum', 'maximum', 'exclusiveMinimum', 'exclusiveMaximum', 'multipleOf']

/** Where a field differs by design: docs/hooks.md says so. */
const DIFFERENT: Record<string, string> = {
  'a valid date-time string': 'it is finer than a millisecond, which cannot be kept in the one form of date-times',
  'case-insensitive T and Z': 'the same',
  'a bignum is an integer': 'integers beyond 2^53 cannot be kept exactly in JSON and JavaScript',
  'a negative bignum is an integer': 'the same',
  'valid if optional overflow handling is implemented': 'the same: 1e308 is no integer that could be kept',
}

interface Group {
  description: string
  schema: Record<string, unknown> | boolean
  tests: { description: string; data: unknown; valid: boolean }[]
}

const typeOf = (data: unknown): string | null =>
  typeof data === 'string'
    ? 'string'
    : typeof data === 'boolean'
      ? 'boolean'
      : typeof data === 'number'
        ? Number.isInteger(data)
          ? 'integer'
          : 'number'
        : null

/** A field of that type with the keywords that concern it; null where the suite means something else than a field. */
function fieldFor(schema: Record<string, unknown>, type: string) {
  const { $schema: _, ...keywords } = schema
  if (Object.keys(keywords).some((key) => !KEYWORDS.includes(key))) return null
  const given = keywords['type'] as string | string[] | undefined
  if (
    given !== undefined &&
    (Array.isArray(given) ? given : [given]).some((each) => !['string', 'integer', 'number', 'boolean', 'null'].includes(each))
  )
    return null
  if (Array.isArray(given) && given.filter((each) => each !== 'null').length !== 1) return null
  const numeric = type !== 'string' && type !== 'boolean'
  const own = Object.fromEntries(
    Object.entries(keywords).filter(([key]) => !(TEXT.includes(key) && type !== 'string') && !(NUMBER.includes(key) && !numeric)),
  )
  try {
    const text = JSON.stringify({ type: 'object', properties: { f: { ...own, type: given ?? type } } })
    return parseTable('tables/t.json', text).fields[0]!
  } catch (error) {
    if (error instanceof HookError) return null
    throw error
  }
}

const cases = FILES.flatMap((file) => {
  const groups = JSON.parse(readFileSync(join(SUITE, `${file}.json`), 'utf8')) as Group[]
  return groups.flatMap(({ description, schema, tests }) =>
    typeof schema === 'boolean'
      ? []
      : tests.flatMap(({ description: what, data, valid }) => {
          const type = typeOf(data)
          const field = type && fieldFor(schema, type === 'integer' && schema['type'] === undefined ? 'number' : type)
          return field ? [{ name: `${file}: ${description}: ${what}`, what, field, data, valid }] : []
        }),
  )
})

test('the suite is there, and has what a field understands', () => {
  expect(readdirSync(SUITE).length).toBeGreaterThan(30)
  expect(cases.length).toBeGreaterThan(200)
})

test.each(cases.map((each) => [each.name, each] as const))('%s', (_, { what, field, data, valid }) => {
  const ours = fitsType(field, data) && (data === null || boundsProblem('t', field, data) === null)
  expect(ours).toBe(DIFFERENT[what] === undefined ? valid : !valid)
})
