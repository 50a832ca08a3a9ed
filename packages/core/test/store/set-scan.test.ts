import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { Value } from '../../src/model/types.js'
import { scanOf } from '../../src/store/set-scan.js'
import type { SetWrite } from '../../src/store/set-source.js'
import { writeSet } from '../../src/store/set-write.js'
import { integer, link, text, World } from '../world.js'

/** Sets that make up a large part of their table are gone through as the records lie in it, and written as a plain loop would. */

const tables = {
  shelf: { fields: { name: text } },
  item: { fields: { code: { ...text, 'x-index': true }, size: integer, shelf: link('shelf') } },
}
const SHELVES = 60
type Item = { id: number; code: string; size: Value; shelf: number | null }

interface Given {
  /** Of each item, its shelf. */
  shelves: readonly (number | null)[]
  keys: readonly number[]
  sizes?: readonly Value[]
  firstId?: number
}

function given({ shelves, keys, sizes = [null], firstId = 1 }: Given): {
  world: World
  items: Item[]
  set: SetWrite & { count: number }
} {
  const world = new World({ tables })
  world.load(
    'shelf',
    Array.from({ length: SHELVES }, (_, index) => ({ id: index + 1 })),
  )
  const items = shelves.map((shelf, index): Item => ({
    id: firstId + index,
    code: `c${index % 7}`,
    size: sizes[index % sizes.length]!,
    shelf,
  }))
  world.load('item', items)
  const table = world.environment.project.tables.get('item')!
  const field = (name: string) => table.fields.find((each) => each.name === name)!
  const entries = keys.map((key) => ({ key, not: null, values: [3] }))
  const count = items.filter(({ shelf }) => shelf !== null && keys.includes(shelf)).length
  return { world, items, set: { table, fields: [field('size')], key: field('shelf'), rest: {}, entries, count } }
}

const from = (low: number, high: number): number[] => Array.from({ length: high - low + 1 }, (_, index) => low + index)
/** 3,000 items, the 50 of a shelf each 60 ids from the last. */
const spread = from(0, 2999).map((index) => (index % SHELVES) + 1)

function scanned(of: Given, change: (set: SetWrite & { count: number }) => Partial<SetWrite> = () => ({})) {
  const { world, set } = given(of)
  return scanOf(world.store, { ...set, ...change(set) })
}

test('a large part of a table, told by links whose records lie apart', () => {
  expect(scanned({ shelves: spread, keys: from(1, 30) })).toEqual({ low: 1, high: 30 })
  expect(scanned({ shelves: spread, keys: from(11, 60).reverse() })).toEqual({ low: 11, high: 60 })
  expect(scanned({ shelves: spread, keys: from(1, 30), firstId: 1e6 })).toEqual({ low: 1, high: 30 })
})

test('a small part goes by the index', () => {
  expect(scanned({ shelves: spread, keys: from(1, 20) })).toBeNull()
})

test('few records go by the index', () => {
  expect(scanned({ shelves: spread.slice(0, 900), keys: from(1, 60) })).toBeNull()
})

test('records that lie together by what tells them go by the index', () => {
  expect(scanned({ shelves: from(0, 2999).map((index) => Math.floor(index / 50) + 1), keys: from(1, 60) })).toBeNull()
})

test('keys between the others: only where no record has one', () => {
  const keys = from(1, 60).filter((key) => key % 5 !== 0)
  expect(scanned({ shelves: spread, keys })).toBeNull()
  expect(scanned({ shelves: spread.map((shelf) => (shelf % 5 === 0 ? null : shelf)), keys })).toEqual({ low: 1, high: 59 })
})

test('sets of unknown size, with other conditions, with records left out, or told otherwise go by the index', () => {
  const of = { shelves: spread, keys: from(1, 60) }
  expect(scanned(of)).not.toBeNull()
  expect(scanned(of, () => ({ count: 0 }))).toBeNull()
  expect(scanned(of, () => ({ rest: { code: 'c1' } }))).toBeNull()
  expect(
    scanned(of, ({ entries }) => ({ entries: entries.map((entry, index) => (index === 3 ? { ...entry, not: 4 } : entry)) })),
  ).toBeNull()
  expect(scanned(of, ({ table }) => ({ key: table.fields.find(({ name }) => name === 'code')! }))).toBeNull()
  expect(scanned(of, () => ({ key: 'id' }))).toBeNull()
})

test('whatever the keys, the records that they tell are written and no others', () => {
  const shelf = fc.integer({ min: 1, max: SHELVES })
  const cases = fc.record({
    shelves: fc
      .array(fc.option(shelf, { freq: 20 }), { minLength: 40, maxLength: 80 })
      .map((some) => from(0, 2199).map((index) => some[(index * 7) % some.length]!)),
    keys: fc
      .tuple(shelf, shelf, fc.array(shelf, { maxLength: 3 }))
      .map(([one, other, without]) => from(Math.min(one, other), Math.max(one, other)).filter((key) => !without.includes(key)))
      .filter((keys) => keys.length > 1),
    sizes: fc.array(fc.constantFrom(null, 3, 4), { minLength: 1, maxLength: 5 }),
  })
  let scans = 0
  const check = (of: Given) => {
    const { world, items, set } = given(of)
    if (scanOf(world.store, set)) scans++
    const isOf = ({ shelf, size }: Item) => shelf !== null && of.keys.includes(shelf) && size !== 3
    expect(writeSet(world.store, set, null)).toBe(items.filter(isOf).length)
    expect(world.all('item')).toEqual(items.map((item) => (isOf(item) ? { ...item, size: 3 } : item)))
  }
  fc.assert(fc.property(cases, check), { numRuns: 60 })
  expect(scans).toBeGreaterThan(0)
})
