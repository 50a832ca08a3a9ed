import fc from 'fast-check'
import { integer, link, text, type Source } from '../../world.js'
import { RULES, type Rule } from './rules.js'

/** Random small programs: a schema variant, some rules, and batches of creates, updates and deletes. */

export type Cell = string | number | null
export interface Batch {
  kind: 'create' | 'update' | 'delete'
  table: 'parent' | 'child'
  rows: Record<string, Cell>[]
}
export interface Program {
  onDelete: 'refuse' | 'clear' | 'cascade'
  uniqueCode: boolean
  rules: { name: string; parameter: number }[]
  batches: Batch[]
}

const small = fc.option(fc.integer({ min: 0, max: 6 }), { nil: null, freq: 6 })
const status = fc.option(fc.constantFrom('a', 'b', 'c'), { nil: null, freq: 6 })
const parentId = fc.option(fc.integer({ min: 1, max: 5 }), { nil: null, freq: 5 })
const code = fc.option(
  fc.integer({ min: 1, max: 40 }).map((n) => `k${n}`),
  { nil: null, freq: 2 },
)

const PARENT = { name: fc.constantFrom('p', 'q', 'r'), rate: small, status }
const CHILD = {
  parent: parentId,
  qty: fc.option(fc.integer({ min: -1, max: 6 }), { nil: null, freq: 6 }),
  rate: small,
  note: fc.option(fc.constantFrom('x', 'y'), { nil: null }),
  status,
  code,
}

const creates = (table: 'parent' | 'child', shape: Record<string, fc.Arbitrary<Cell>>): fc.Arbitrary<Batch> =>
  fc.array(fc.record(shape), { minLength: 1, maxLength: 5 }).map((rows) => ({ kind: 'create' as const, table, rows }))

/** All rows of an update change the same fields, so that PostgreSQL can do it in one statement. */
const updates = (table: 'parent' | 'child', shape: Record<string, fc.Arbitrary<Cell>>): fc.Arbitrary<Batch> =>
  fc.subarray(Object.keys(shape), { minLength: 1, maxLength: 3 }).chain((fields) =>
    fc
      .uniqueArray(
        fc.record({
          id: fc.integer({ min: 1, max: 7 }),
          ...Object.fromEntries(fields.map((field) => [field, shape[field]!])),
        }) as fc.Arbitrary<Record<string, Cell>>,
        {
          minLength: 1,
          maxLength: 5,
          selector: (row) => row['id'],
        },
      )
      .map((rows) => ({ kind: 'update' as const, table, rows })),
  )
const deletes = (table: 'parent' | 'child'): fc.Arbitrary<Batch> =>
  fc
    .uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1, maxLength: 2 })
    .map((ids) => ({ kind: 'delete' as const, table, rows: ids.map((id) => ({ id })) }))

const batch = fc.oneof(
  { weight: 1, arbitrary: creates('parent', PARENT) },
  { weight: 4, arbitrary: creates('child', CHILD) },
  { weight: 3, arbitrary: updates('parent', PARENT) },
  { weight: 4, arbitrary: updates('child', CHILD) },
  { weight: 1, arbitrary: deletes('child') },
  { weight: 1, arbitrary: deletes('parent') },
)

export const programs: fc.Arbitrary<Program> = fc.record({
  onDelete: fc.constantFrom('refuse' as const, 'clear' as const, 'cascade' as const),
  uniqueCode: fc.boolean(),
  rules: fc
    .subarray(Object.keys(RULES), { minLength: 1 })
    .chain((names) =>
      fc.tuple(...names.map((name) => fc.record({ name: fc.constant(name), parameter: fc.integer({ min: 0, max: 5 }) }))),
    ),
  batches: fc
    .tuple(creates('parent', PARENT), creates('child', CHILD), fc.array(batch, { minLength: 1, maxLength: 6 }))
    .map(([parents, children, more]) => [parents, children, ...more]),
})

export const rulesOf = (program: Program): Rule[] => program.rules.map(({ name, parameter }) => RULES[name]!(parameter))

/** What a program is in hooks. */
export const sourceOf = (program: Program): Source => ({
  tables: {
    parent: {
      fields: { name: text, rate: integer, status: { ...text, enum: ['a', 'b', 'c'] }, total: integer, n: integer },
      required: ['name'],
    },
    child: {
      fields: {
        parent: link('parent', program.onDelete),
        qty: { ...integer, minimum: 0 },
        rate: integer,
        amount: integer,
        note: text,
        status: { ...text, enum: ['a', 'b', 'c'] },
        code: { ...text, ...(program.uniqueCode ? { 'x-unique': true } : {}) },
      },
    },
  },
  hooks: Object.fromEntries(rulesOf(program).map((rule) => [rule.name, rule.hook])),
})
