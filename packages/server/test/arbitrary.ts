import fc from 'fast-check'
import { z } from 'zod'

/** Requests made from the contract's own schemas: some right, most nearly right, some nothing of the kind. */

type Schema = {
  type?: string | string[]
  properties?: Record<string, Schema>
  required?: string[]
  additionalProperties?: Schema | boolean
  propertyNames?: Schema
  items?: Schema
  minItems?: number
  anyOf?: Schema[]
  oneOf?: Schema[]
  enum?: unknown[]
  const?: unknown
  pattern?: string
}

/** Words that mean something to the application of the test, and words that mean something to computers. */
const WORDS = [
  'item',
  'part',
  'name',
  'qty',
  'id',
  'base',
  'h',
  'p',
  'ada',
  'mail',
  'create',
  'update',
  'drafts',
  'plugins/p/hooks/h.ts',
  'plugins/p/lib/l.ts',
  'plugins/p/tests/t.test.ts',
  'fixtures/base/item.json',
  'project.json',
  'tables/item.json',
  'plugins/p/plugin.json',
  'data/item.csv',
  '',
  ' ',
  '0',
  '1',
  '-1',
  '1e999',
  'null',
  'true',
  '{}',
  '[]',
  '{"qty":{"gt":1}}',
  '{"name":{"like":"%"}}',
  '__proto__',
  'constructor',
  'toString',
  'ph_save',
  'sqlite_master',
  '"; DROP TABLE item; --',
  '%',
  '%00',
  '\u0000',
  '\ud800',
  '💥',
  'ÄÖÜ',
  '../../etc/passwd',
  'export default 1',
  'export const x = (',
  'a'.repeat(300),
  'id,name\n1,x\n',
  '{"type":"object","properties":{"a":{"type":"string"}}}',
]
const NUMBERS = [0, 1, 2, -1, 0.5, 1e9, 2 ** 31, 2 ** 53, -(2 ** 53), 1e308, Number.MIN_VALUE]

const word = fc.oneof({ weight: 6, arbitrary: fc.constantFrom(...WORDS) }, { weight: 1, arbitrary: fc.string({ maxLength: 20 }) })
const number = fc.oneof(fc.constantFrom(...NUMBERS), fc.integer({ min: -5, max: 20 }))
export const anything = fc.oneof(fc.jsonValue({ maxDepth: 3 }), word, number)

const id = fc.constantFrom(1, 2, 3)
/** By the name of a property: what gets a request past the first door. */
const HINTS: Record<string, fc.Arbitrary<unknown>> = {
  table: fc.constantFrom('item', 'part'),
  fixtures: fc.constant('base'),
  user: fc.constant('ada'),
  id,
  copyOf: id,
  focus: id,
  limit: fc.constantFrom(1, 5, 100),
  offset: fc.constantFrom(0, 1),
  remove: fc.boolean(),
  values: fc.record({ name: fc.oneof(word, fc.constant(null)), qty: number, id }, { requiredKeys: [] }),
  touch: fc.subarray(['name', 'qty']),
  leaveOut: fc.subarray(['name', 'qty']),
  orderBy: fc.constantFrom('name', '-qty', 'id'),
  where: fc.constantFrom('{"name":"a"}', '{"qty":{"gte":0}}', '{"id":[1]}', '{"name":{"like":"%a%"}}'),
}

function ofType(type: string | undefined, schema: Schema): fc.Arbitrary<unknown> {
  switch (type) {
    case 'string':
      return word
    case 'integer':
    case 'number':
      return number
    case 'boolean':
      return fc.boolean()
    case 'null':
      return fc.constant(null)
    case 'array':
      return fc.array(arbitraryOf(schema.items ?? {}), { minLength: schema.minItems ?? 0, maxLength: 3 })
    case 'object':
      return ofObject(schema)
    default:
      return anything
  }
}

function ofObject(schema: Schema): fc.Arbitrary<unknown> {
  const known = Object.entries(schema.properties ?? {}).map(([key, each]) => {
    const hint = HINTS[key]
    const free = arbitraryOf(each)
    return [key, hint ? fc.oneof({ weight: 6, arbitrary: hint }, { weight: 1, arbitrary: free }) : free] as const
  })
  const required = new Set(schema.required ?? [])
  const fixed = fc.record(Object.fromEntries(known), {
    requiredKeys: known.map(([key]) => key).filter((key) => required.has(key)),
  })
  const { additionalProperties: more } = schema
  if (more && typeof more === 'object') {
    const free = fc.dictionary(
      word.filter((key) => key !== '__proto__'),
      arbitraryOf(more),
      { maxKeys: 3 },
    )
    return fc.tuple(fixed, free).map(([a, b]) => ({ ...a, ...b }))
  }
  return fixed
}

/** Mostly what the schema says; now and then something else in its place. */
export function arbitraryOf(schema: Schema): fc.Arbitrary<unknown> {
  const right = ((): fc.Arbitrary<unknown> => {
    if (schema.const !== undefined) return fc.constant(schema.const)
    if (schema.enum) return fc.constantFrom(...schema.enum)
    const choices = schema.anyOf ?? schema.oneOf
    if (choices) return fc.oneof(...choices.map(arbitraryOf))
    if (Array.isArray(schema.type)) return fc.oneof(...schema.type.map((type) => ofType(type, schema)))
    return ofType(schema.type, schema)
  })()
  return fc.oneof({ weight: 24, arbitrary: right }, { weight: 1, arbitrary: anything })
}

export const schemaOf = (schema: z.ZodType): Schema => z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as Schema
