import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Value } from '../../src/model/types.js'
import { flag, hook, integer, link, text, World } from '../world.js'

/** What a save does does not depend on the size of its batches. */

type Row = Record<string, Value>
interface Input {
  values: Row
  copyOf?: number
  remove?: boolean
}

const fields = {
  name: text,
  qty: { type: 'integer', minimum: 0 },
  kind: { type: 'string', enum: ['a', 'b'], default: 'a' },
  note: text,
  on: { ...flag, default: true },
  code: text,
}
const HOOKS = {
  derives: hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.code = row.now.name + ':' + row.now.qty } }`),
  refuses: hook(
    `{ table: 'item', moment: 'before-save', watch: ['note'], each(row) { if (row.now.note === 'bad') row.refuse('note', 'no') } }`,
  ),
}
const world = (batchSize: number) => {
  const w = new World({ tables: { item: { fields, required: ['name'] } }, hooks: HOOKS, project: { batchSize } })
  w.load(
    'item',
    [1, 2, 3, 4, 5].map((id) => ({
      id,
      name: `n${id}`,
      qty: id,
      kind: 'b',
      note: id === 5 ? 'bad' : null,
      on: id % 2 === 0,
      code: `n${id}:${id}`,
    })),
  )
  return w
}

/** The contract of this table and its hooks, told without the engine. */
function interpret(inputs: readonly Input[], partial: boolean): Row[] {
  const records = new Map<number, Row>()
  for (const row of world(500).all('item')) records.set(row['id'] as number, row)
  const before = new Map([...records].map(([id, row]) => [id, { ...row }]))
  let refused = false
  const seen = new Set<number>()
  let next = 6
  for (const { values, copyOf, remove } of inputs) {
    const { id, ...set } = values
    const isNew = id === undefined
    // A record that this save makes cannot be named by its id.
    const given = isNew ? next++ : (id as number)
    if (!isNew && seen.has(given)) {
      refused = true
      continue
    }
    const old = before.get(copyOf ?? given)
    const blank: Row = { id: given, name: null, qty: null, kind: 'a', note: null, on: 1, code: null }
    const was = isNew && copyOf === undefined ? blank : old
    if (!was) {
      refused = true
      continue
    }
    if (!isNew) seen.add(given)
    if (remove) {
      records.delete(given)
      continue
    }
    const now: Row = { ...was, ...set, id: given }
    if (typeof now['on'] === 'boolean') now['on'] = Number(now['on'])
    now['code'] = `${now['name']}:${now['qty']}`
    const noteWakes =
      isNew && copyOf === undefined ? now['note'] !== null : isNew ? now['note'] !== null : now['note'] !== was['note']
    const isBad =
      now['name'] === null || (now['qty'] !== null && (now['qty'] as number) < 0) || (noteWakes && now['note'] === 'bad')
    if (isBad) {
      refused = true
      // A refused row is as if it had never been given.
      if (!isNew) seen.delete(given)
      continue
    }
    records.set(given, now)
  }
  return [...(refused && !partial ? before : records).values()].sort((a, b) => (a['id'] as number) - (b['id'] as number))
}

const values = fc.record(
  {
    name: fc.constantFrom<Value>('x', 'y', null),
    qty: fc.constantFrom<Value>(-1, 0, 3, null),
    kind: fc.constantFrom<Value>('a', 'b', null),
    note: fc.constantFrom<Value>('bad', 'fine', null),
    on: fc.constantFrom<Value>(true, false, null),
  },
  { requiredKeys: [] },
)
const input: fc.Arbitrary<Input> = fc.oneof(
  { weight: 3, arbitrary: fc.record({ values }) },
  { weight: 4, arbitrary: fc.tuple(values, fc.integer({ min: 1, max: 6 })).map(([set, id]) => ({ values: { ...set, id } })) },
  { weight: 2, arbitrary: fc.record({ values, copyOf: fc.integer({ min: 1, max: 5 }) }) },
  { weight: 1, arbitrary: fc.integer({ min: 1, max: 5 }).map((id) => ({ values: { id }, remove: true })) },
)

test.each([
  ['whole', false],
  ['the good rows only', true],
])('random rows, %s, in batches of 1, 2, 3 and 500', (_, partial) => {
  fc.assert(
    fc.property(fc.uniqueArray(input, { maxLength: 8, selector: ({ values }) => values['id'] ?? Symbol() }), (inputs) => {
      const expected = interpret(inputs, partial)
      for (const batchSize of [1, 2, 3, 500]) {
        const w = world(batchSize)
        w.try(
          inputs.map((each) => ({ table: 'item', ...each })),
          { partial, record: false },
        )
        expect(w.all('item'), `batches of ${batchSize}`).toEqual(expected)
      }
    }),
    { numRuns: 150 },
  )
})

test('a new row slides into an earlier batch when a refused one is left out: it is new all the same', () => {
  const w = new World({
    tables: {
      item: { fields: { qty: { type: 'integer', minimum: 0 }, kind: { ...text, default: 'd' }, note: text }, required: ['kind'] },
    },
    hooks: {
      h: hook(`{ table: 'item', moment: 'before-save', watch: ['qty'], each(row) { if (row.now.qty === 7) row.now.qty = 8 } }`),
    },
  })
  w.load(
    'item',
    Array.from({ length: 600 }, (_, at) => ({ id: at + 1, qty: 1, kind: 'k', note: 'n' })),
  )
  const rows = [
    { table: 'item', values: { id: 500, qty: -1 } },
    ...Array.from({ length: 499 }, (_, at) => ({ table: 'item', values: { id: at + 1, qty: 2 } })),
    { table: 'item', values: { qty: 1, note: 'new' } },
    { table: 'item', values: { qty: 3 }, copyOf: 1 },
  ]
  const { kept, refusals } = w.try(rows, { partial: true, record: false })
  expect([kept, refusals.length]).toEqual([true, 1])
  expect(w.all('item').slice(600)).toEqual([
    { id: 601, qty: 1, kind: 'd', note: 'new' },
    { id: 602, qty: 3, kind: 'k', note: 'n' },
  ])
})

describe('over batches of two', () => {
  const tables = {
    box: { fields: { name: text, most: integer } },
    part: { fields: { box: link('box', 'cascade'), qty: integer } },
  }

  test('a record that is given twice is refused', () => {
    const w = new World({ tables, project: { batchSize: 2 } })
    w.load(
      'box',
      [1, 2, 3].map((id) => ({ id, name: 'x' })),
    )
    const rows = [1, 2, 3, 1].map((id, at) => ({ table: 'box', values: { id, name: `n${at}` } }))
    expect(w.try(rows).error).toMatchObject({ code: 'save/duplicate-row', row: 4 })
    expect(w.all('box').map(({ name }) => name)).toEqual(['x', 'x', 'x'])
  })

  test('a parent that goes, and a child of it that is named, too', () => {
    const w = new World({ tables, project: { batchSize: 2 } })
    w.load(
      'box',
      [1, 2].map((id) => ({ id, name: 'x' })),
    )
    w.load(
      'part',
      [1, 2].map((id) => ({ id, box: 1, qty: 1 })),
    )
    const remove = (table: string, id: number) => ({ table, values: { id }, remove: true })
    w.run([remove('box', 1), { table: 'box', values: { id: 2, name: 'y' } }, remove('part', 1), remove('part', 2)])
    expect([w.all('box').length, w.all('part').length]).toEqual([1, 0])
  })
})

test('a before-commit hook that is touched by children runs whatever it watches, also where the parent was written', () => {
  const w = new World({
    tables: {
      box: { fields: { name: text, most: integer, total: integer } },
      part: { fields: { box: link('box'), qty: integer } },
    },
    hooks: {
      sums: hook(
        `{ table: 'part', moment: 'after-save', load: ({ rows, store }) => null, each(row, _, { update }) { update('box', row.now.box as any, { total: row.now.qty }) } }`,
      ),
      limits: hook(
        `{ table: 'box', moment: 'before-commit', watch: ['most'], touchedBy: ['part.box'], load: ({ rows, store }) => store.rollup('part', 'box', rows.map((row) => row.id), { sum: ['qty'] }), each(row, sums) { if ((sums.get(row.id)?.sum.qty ?? 0) > (row.now!.most ?? 0)) row.refuse(null, 'too many') } }`,
      ),
    },
  })
  w.load('box', [{ id: 1, name: 'x', most: 5 }])
  w.put('part', { box: 1, qty: 5 })
  expect(w.try([{ table: 'part', values: { box: 1, qty: 1 } }]).error).toMatchObject({
    code: 'hook/refused',
    message: 'too many',
  })
  expect(w.all('part')).toHaveLength(1)
})

test('a chain of unique values of which the last is refused', () => {
  const w = new World({ tables: { item: { fields: { k: { ...text, 'x-unique': true } } } } })
  w.load('item', [
    { id: 1, k: 'k1' },
    { id: 2, k: 'k2' },
    { id: 3, k: 'k3' },
  ])
  const rows = [{ k: 'k3' }, { id: 3, k: 'k2' }, { id: 2, k: 'k1' }, { k: 'good' }].map((values) => ({ table: 'item', values }))
  const partial = w.try(rows as never, { partial: true })
  expect([partial.kept, partial.refusals.map(({ row }) => row)]).toEqual([true, [1, 2, 3]])
  expect(w.all('item').map(({ k }) => k)).toEqual(['k1', 'k2', 'k3', 'good'])
  expect(w.try(rows as never).error).toMatchObject({ code: 'check/unique' })
})

describe('a refused document does not spoil good ones', () => {
  const world = (each: string) =>
    new World({
      tables: { box: { fields: { name: text } }, doc: { fields: { box: link('box'), value: text, bad: flag } } },
      hooks: {
        pushes: hook(`{ table: 'doc', moment: 'after-save', ${each} }`),
        last: hook(`{ table: 'doc', moment: 'before-commit', each(row) { if (row.now?.bad) row.refuse(null, 'late') } }`),
      },
    })
  test.each([
    [
      'in each',
      `each(row: any, _: unknown, { update }: any) { update('box', row.now.box, { name: row.now.value }) }`,
      [[2, 'effects/conflict']],
    ],
    [
      'in finish',
      `finish({ rows, update }: any) { for (const row of rows) update('box', row.now.box, { name: row.now.value }) }`,
      'effects/conflict',
    ],
  ])('by effects that conflict with theirs, %s', (_, each, conflict) => {
    const w = world(each)
    w.load('box', [{ id: 1, name: 'x' }])
    const doc = (value: string, bad: boolean) => ({ table: 'doc', values: { box: 1, value, bad } })
    const { kept, refusals } = w.try([doc('first', true), doc('second', false)], { partial: true })
    expect([kept, refusals.map(({ row, code }) => [row, code])]).toEqual([true, [[1, 'hook/refused']]])
    expect(w.all('doc').map(({ value }) => value)).toEqual(['second'])
    expect(w.all('box')[0]!['name']).toBe('second')
    // Without a refusal the second one conflicts with the first; what finish asks for represents both.
    const both = w.try([doc('third', false), doc('fourth', false)], { partial: true })
    expect(both.error?.code ?? both.refusals.map(({ row, code }) => [row, code])).toEqual(conflict)
    expect(w.all('box')[0]!['name']).toBe(conflict === 'effects/conflict' ? 'second' : 'third')
  })
})
