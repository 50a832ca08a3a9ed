import fc from 'fast-check'
import { expect, test, vi } from 'vitest'
import type { Value } from '../../src/model/types.js'
import type { SetEntry } from '../../src/store/set-source.js'
import { rangeOf } from '../../src/store/set-range.js'
import { writeSet } from '../../src/store/set-write.js'
import { flag, integer, link, number, text, World } from '../world.js'

/** A set of ids that lie close together is gone through as a range of the table, any other by its entries: both must write the same. */

const going = vi.hoisted(() => ({ byEntries: false, ranges: 0 }))
vi.mock('../../src/store/set-range.js', async (original) => {
  const real = await original<typeof import('../../src/store/set-range.js')>()
  const rangeOf: typeof real.rangeOf = (set) => {
    const range = going.byEntries ? null : real.rangeOf(set)
    if (range) going.ranges++
    return range
  }
  return { ...real, rangeOf }
})

const tables = {
  shelf: { fields: { name: text } },
  item: { fields: { name: text, size: integer, mass: number, sealed: flag, shelf: link('shelf') } },
}
const NAMES = ['name', 'size', 'mass', 'sealed', 'shelf'] as const
const VALUE = {
  name: fc.constantFrom(null, '', 'a"b\\', 'ö\u0001', '12', 'null'),
  size: fc.constantFrom(null, 0, 7, -3, Number.MAX_SAFE_INTEGER),
  mass: fc.constantFrom(null, 0, 0.1, 5, 1e21, 5e-324, -2.5),
  sealed: fc.constantFrom(null, true, false),
  shelf: fc.constantFrom(null, 1, 2),
}
const rows = fc.array(fc.record({ id: fc.integer({ min: 1, max: 14 }), ...VALUE }), { minLength: 1, maxLength: 10 })

interface Case {
  before: Record<string, Value>[]
  after: Record<string, Value>[]
  names: readonly string[]
  falls: boolean
  alike: boolean
  history: boolean
}

const byId = (records: readonly Record<string, Value>[]) => [...new Map(records.map((each) => [each['id'] as number, each]))]

function run({ before, after, names, falls, alike, history }: Case, byEntries: boolean) {
  going.byEntries = byEntries
  const world = new World({ tables })
  world.load('shelf', [{ id: 1 }, { id: 2 }])
  world.load(
    'item',
    byId(before).map(([, record]) => record),
  )
  const table = world.environment.project.tables.get('item')!
  const fields = table.fields.filter(({ name }) => names.includes(name))
  const given = byId(after).sort(([one], [other]) => (falls ? other - one : one - other))
  const entries = given.map(([key, values]): SetEntry => {
    const from = alike ? given[0]![1] : values
    return { key, not: null, values: fields.map(({ name }) => from[name]!) }
  })
  const written = writeSet(
    world.store,
    { table, fields, key: 'id', rest: {}, entries },
    history ? { save: 1, depth: 2, by: ({ name }) => `by ${name}` } : null,
  )
  return {
    written,
    items: world.all('item'),
    history: world.all('ph_history').map(({ record, depth, cause, patch }) => [record, depth, cause, patch]),
  }
}

test('as a range or by its entries, the same is written', () => {
  const cases = fc.record({
    before: rows,
    after: rows,
    names: fc.subarray([...NAMES], { minLength: 1 }),
    falls: fc.boolean(),
    alike: fc.boolean(),
    history: fc.boolean(),
  })
  fc.assert(
    fc.property(cases, (each) => {
      expect(run(each, false)).toEqual(run(each, true))
    }),
    { numRuns: 300 },
  )
  expect(going.ranges).toBeGreaterThan(50)
})

test('ids that lie far apart, or come in no order, are no range', () => {
  going.byEntries = false
  const table = new World({ tables }).environment.project.tables.get('item')!
  const isRange = (...ids: number[]) => {
    const entries = ids.map((key): SetEntry => ({ key, not: null, values: ['x'] }))
    return rangeOf({ table, fields: [table.fields[0]!], key: 'id', rest: {}, entries }) !== null
  }
  expect([isRange(5), isRange(1, 2, 3), isRange(9, 7, 6), isRange(1, 3, 5, 8)]).toEqual([true, true, true, true])
  expect([isRange(1, 100), isRange(1, 3, 2), isRange(3, 1, 2), isRange()]).toEqual([false, false, false, false])
})
