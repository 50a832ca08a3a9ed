import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { Value } from '../../../src/model/types.js'
import { integer, link, text, World } from '../../world.js'
import { Data, interpret, interpretPartially, type Input, type Rec, type TableRules } from './interpret.js'
import { codeOf, RULES, type Rule } from './rules.js'

/**
 * Random programs of hooks and random saves: the engine, whatever its batches are, and an interpreter of the contract that shares nothing
 * with it come to the same records, and refuse the same. PROGRAMS=10000 tries more of them.
 */

type OnDelete = TableRules['links'][number]['onDelete']
interface Program {
  rules: Rule[]
  onDelete: OnDelete
  batchSize: number
  partial: boolean
  saves: Input[][]
}

const wrongPart = (record: Rec) => record['qty'] !== null && (record['qty'] as number) < 0
const schemaOf = (onDelete: OnDelete): ReadonlyMap<string, TableRules> =>
  new Map<string, TableRules>([
    [
      'box',
      { fields: ['name', 'total', 'parts'], defaults: {}, links: [], wrong: (record) => record['name'] === null, unique: [] },
    ],
    [
      'part',
      {
        fields: ['box', 'qty', 'cost', 'label', 'note', 'stamp', 'kind', 'code'],
        defaults: { kind: 'a' },
        links: [{ field: 'box', table: 'box', onDelete }],
        wrong: wrongPart,
        unique: ['code'],
      },
    ],
    ['log', { fields: ['word'], defaults: {}, links: [], wrong: () => false, unique: [] }],
  ])
const tablesFor = (onDelete: OnDelete) => ({
  box: { fields: { name: text, total: integer, parts: integer }, required: ['name'] },
  part: {
    fields: {
      box: link('box', onDelete),
      qty: { ...integer, minimum: 0 },
      cost: integer,
      label: text,
      note: text,
      stamp: text,
      kind: { type: 'string', enum: ['a', 'b'], default: 'a' },
      code: { ...text, 'x-unique': true },
    },
  },
  log: { fields: { word: text } },
})

const some = <T>(...values: T[]) => fc.constantFrom(...values)
const boxValues = fc.record({ name: some<Value>('north', 'south', 'w', null) }, { requiredKeys: ['name'] })
const partValues = fc.record(
  {
    box: some<Value>(1, 2, 3, 9, null),
    qty: some<Value>(-1, 0, 1, 2, 3, 5, null),
    note: some<Value>('typed', null),
    label: some<Value>('mine', null),
    kind: some<Value>('a', 'b', null),
    code: some<Value>('k1', 'k2', 'k3', null),
  },
  { requiredKeys: [] },
)
const id = fc.integer({ min: 1, max: 6 })
const rowOf = (unique: boolean): fc.Arbitrary<Input> => {
  const values = unique ? partValues : partValues.map(({ code: _, ...rest }) => rest as Rec)
  return fc.oneof(
    { weight: 1, arbitrary: boxValues.map((set) => ({ table: 'box', values: set })) },
    { weight: 3, arbitrary: values.map((set) => ({ table: 'part', values: set as Rec })) },
    {
      weight: 2,
      arbitrary: fc
        .tuple(boxValues, fc.integer({ min: 1, max: 4 }))
        .map(([set, at]) => ({ table: 'box', values: { ...set, id: at } })),
    },
    { weight: 4, arbitrary: fc.tuple(values, id).map(([set, at]) => ({ table: 'part', values: { ...(set as Rec), id: at } })) },
    {
      weight: 1,
      arbitrary: fc.tuple(some('box', 'part'), id).map(([table, at]): Input => ({ table, values: { id: at }, remove: true })),
    },
  )
}
/** No record twice in a save. */
const saveOf = (unique: boolean) =>
  fc.uniqueArray(rowOf(unique), {
    minLength: 1,
    maxLength: 6,
    selector: ({ table, values }) => (values['id'] === undefined ? Symbol() : `${table} ${String(values['id'])}`),
  })

const rulesOf = (names: readonly string[] | null) =>
  fc
    .tuple(...RULES.map((rule) => fc.option(fc.integer({ min: 1, max: 4 }).map(rule), { nil: null, freq: 1 })))
    .map((all) => all.filter((rule) => rule !== null && (names === null || names.includes(rule.name))) as Rule[])

/** Rules by which rows do not depend on each other: then what is kept of a partial save can be told row by row. */
const ALONE = ['a-default', 'b-derive', 'd-bound', 'e-became', 'f-stamp', 'h-total', 'i-log']
const whole: fc.Arbitrary<Program> = fc.record({
  rules: rulesOf(null),
  onDelete: some<OnDelete>('cascade', 'clear', 'refuse'),
  batchSize: some(1, 2, 3, 500),
  partial: fc.constant(false),
  saves: fc.array(saveOf(true), { minLength: 1, maxLength: 4 }),
})
const partial: fc.Arbitrary<Program> = fc.record({
  rules: rulesOf(ALONE),
  onDelete: fc.constant<OnDelete>('clear'),
  batchSize: some(1, 2, 3, 500),
  partial: fc.constant(true),
  saves: fc.array(
    saveOf(false).map((rows) => rows.filter(({ table, remove }) => table === 'part' && !remove)),
    { minLength: 1, maxLength: 4 },
  ),
})

const START: Record<string, Rec[]> = {
  box: [1, 2, 3].map((at) => ({ id: at, name: `box ${at}`, total: null, parts: null })),
  part: [1, 2, 3, 4].map((at) => ({
    id: at,
    box: at % 2 ? 1 : 2,
    qty: at,
    cost: null,
    label: null,
    note: at === 1 ? 'kept' : null,
    stamp: null,
    kind: at === 2 ? 'b' : 'a',
    code: at < 3 ? `k${at}` : null,
  })),
  log: [],
}

function agrees({ rules, onDelete, batchSize, partial: keepsGood, saves }: Program): void {
  const schema = schemaOf(onDelete)
  const world = new World({
    tables: tablesFor(onDelete),
    hooks: Object.fromEntries(rules.map((rule) => [rule.name, codeOf(rule)])),
    project: { batchSize },
  })
  for (const [table, records] of Object.entries(START)) world.load(table, records)
  let data = new Data(
    new Map(
      Object.entries(START).map(([table, records]) => [
        table,
        new Map(records.map((each) => [each['id'] as number, { ...each }])),
      ]),
    ),
    new Map(Object.entries(START).map(([table, records]) => [table, records.length + 1])),
  )
  for (const rows of saves) {
    if (rows.length === 0) continue
    const outcome = world.try(rows, { partial: keepsGood, record: false })
    if (keepsGood) {
      const expected = interpretPartially(data, schema, rules, rows)
      expect(outcome.refusals.map(({ row }) => row).filter((row, at, all) => all.indexOf(row) === at)).toEqual(expected.refused)
      data = expected.data
    } else {
      const expected = interpret(data, schema, rules, rows, batchSize)
      expect(outcome.error !== null, JSON.stringify(outcome.error)).toBe(expected.refused)
      data = expected.data
    }
    for (const table of schema.keys()) {
      const kept = world.all(table)
      // Ids of new records are the engine’s to give: records that a ripple makes have no order.
      if (table === 'log')
        expect(kept.map(({ word }) => word).sort()).toEqual(
          data
            .all(table)
            .map(({ word }) => word)
            .sort(),
        )
      else expect(kept).toEqual(data.all(table).sort((a, b) => (a['id'] as number) - (b['id'] as number)))
      data.next.set(table, Math.max(data.next.get(table)!, nextOf(world, table)))
    }
  }
}

/** Ids are not given twice, also after a save that was refused: the engine may pass some by. */
const nextOf = (world: World, table: string): number =>
  (world.store.one('SELECT next FROM ph_sequence WHERE name = ?', `#${table}`) as number | undefined) ?? 1

const numRuns = Number(process.env['PROGRAMS'] ?? 300) / 2
test('whole saves', () => fc.assert(fc.property(whole, agrees), { numRuns }), 3_600_000)
test('saves of which the good rows are kept', () => fc.assert(fc.property(partial, agrees), { numRuns }), 3_600_000)
