import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { Value } from '../../src/model/types.js'
import type { SetEntry } from '../../src/store/set-source.js'
import { writeSet } from '../../src/store/set-write.js'
import { flag, integer, link, number, text, World } from '../world.js'

/** Sets that are reported by what their records link to, or by a text: written as a plain loop over the records would. */

const tables = {
  shelf: { fields: { name: text } },
  item: {
    fields: { code: { ...text, 'x-index': true }, size: integer, mass: number, sealed: flag, shelf: link('shelf') },
  },
}
type Item = { id: number } & Record<string, Value>
const VALUE = {
  size: fc.constantFrom(null, 0, 7),
  mass: fc.constantFrom(null, 0.1, 5, 1e21),
  sealed: fc.constantFrom(null, true, false),
}
const NAMES = ['size', 'mass', 'sealed'] as const

interface Case {
  items: Omit<Item, 'id'>[]
  key: 'shelf' | 'code'
  entries: { key: number; not: number | null; values: Record<string, Value> }[]
  names: readonly (typeof NAMES)[number][]
  rest: Record<string, Value>
  alike: boolean
  history: boolean
}

const codeOf = (key: number) => (key % 2 ? `${key}` : `'"${key} ö`)

function check({ items, key: keyName, entries: given, names, rest, alike, history }: Case): void {
  const world = new World({ tables })
  world.load(
    'shelf',
    [1, 2, 3, 4].map((id) => ({ id })),
  )
  const before: Item[] = items.map((item, index) => ({ ...item, id: index + 1, code: codeOf(item['shelf'] as number) }))
  world.load('item', before)
  const table = world.environment.project.tables.get('item')!
  const fields = table.fields.filter(({ name }) => (names as readonly string[]).includes(name))
  const key = table.fields.find(({ name }) => name === keyName)!
  const entries = [...new Map(given.map((entry) => [entry.key, entry])).values()].map((entry): SetEntry => ({
    key: keyName === 'code' ? codeOf(entry.key) : entry.key,
    not: entry.not,
    values: fields.map(({ name }) => (alike ? given[0]! : entry).values[name]!),
  }))
  let changed = 0
  const after = before.map((item) => {
    const entry = entries.find((each) => each.key === item[keyName])
    if (!entry || entry.not === item.id || Object.entries(rest).some(([name, value]) => item[name] !== value)) return item
    const now = { ...item, ...Object.fromEntries(fields.map(({ name }, index) => [name, entry.values[index]!])) }
    if (fields.some(({ name }) => now[name] !== item[name])) changed++
    return now
  })
  const by = history ? { save: 1, depth: 1, by: () => 'p/h' } : null
  expect(writeSet(world.store, { table, fields, key, rest, entries }, by)).toBe(changed)
  const stored = (value: Value) => (typeof value === 'boolean' ? Number(value) : value)
  expect(world.all('item')).toEqual(
    after.map((item) => Object.fromEntries(Object.entries(item).map(([name, value]) => [name, stored(value)]))),
  )
  expect(world.all('ph_history')).toHaveLength(history ? changed : 0)
}

test('whatever they are reported by, take and leave out', () => {
  const entry = fc.record({
    key: fc.integer({ min: 1, max: 5 }),
    not: fc.option(fc.integer({ min: 1, max: 6 }), { freq: 1 }),
    values: fc.record(VALUE),
  })
  const cases = fc.record({
    items: fc.array(fc.record({ shelf: fc.integer({ min: 1, max: 4 }), ...VALUE }), { minLength: 1, maxLength: 12 }),
    key: fc.constantFrom('shelf' as const, 'code' as const),
    entries: fc.array(entry, { minLength: 1, maxLength: 5 }),
    names: fc.subarray([...NAMES], { minLength: 1 }),
    rest: fc.constantFrom<Record<string, Value>>({}, { size: 7 }, { sealed: null }),
    alike: fc.boolean(),
    history: fc.boolean(),
  })
  fc.assert(fc.property(cases, check), { numRuns: 300 })
})

test('more of them than are reported in one statement, each once', () => {
  const many = Array.from({ length: 1300 }, (_, index) => index + 1)
  const world = new World({ tables })
  world.load(
    'shelf',
    many.map((id) => ({ id })),
  )
  world.load('item', [
    ...many.map((id) => ({ id, shelf: id, size: id === 600 ? 3 : null })),
    { id: 1301, shelf: null, size: null },
    { id: 1302, shelf: 1, size: null },
  ])
  const table = world.environment.project.tables.get('item')!
  const [size, shelf] = ['size', 'shelf'].map((name) => table.fields.find((each) => each.name === name)!) as [never, never]
  const entries = many.filter((id) => id !== 13).map((key): SetEntry => ({ key, not: null, values: [3] }))
  expect(writeSet(world.store, { table, fields: [size], key: shelf, rest: {}, entries }, null)).toBe(1299)
  expect(
    world
      .all('item')
      .filter((item) => item['size'] !== 3)
      .map(({ id }) => id),
  ).toEqual([13, 1301])
})
