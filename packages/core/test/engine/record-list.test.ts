import fc from 'fast-check'
import { expect, test } from 'vitest'
import { list, type ListOptions, type Readable } from '../../src/engine/record-list.js'
import { loadRecords } from '../../src/store/records.js'
import type { RecordValues } from '../../src/model/types.js'
import { integer, link, number, text, World } from '../world.js'

/** The oracle of pages by a record is SQLite's own OFFSET over the whole order. */

const record = fc.record({
  shelf: fc.option(fc.integer({ min: 1, max: 2 })),
  name: fc.option(fc.constantFrom('', 'a', 'B', 'é', 'aa')),
  rank: fc.option(fc.integer({ min: -2, max: 2 })),
  mass: fc.option(fc.constantFrom(0, 0.5, 1e9)),
})
const key = fc
  .tuple(fc.boolean(), fc.constantFrom('shelf', 'name', 'rank', 'mass', 'id'))
  .map(([falls, name]) => (falls ? '-' : '') + name)
const keys = fc.array(key, { maxLength: 3 }).map((all) => (all.length === 0 ? undefined : all.join(', ')))

function readable(boxes: readonly object[]): Readable & { close(): void } {
  const world = new World({
    tables: {
      shelf: { fields: { name: text } },
      box: { fields: { shelf: link('shelf'), name: text, rank: integer, mass: number } },
    },
  })
  const { tables } = world.environment.project
  loadRecords(world.store, tables.get('shelf')!, [1, 2].map((id) => ({ id, name: `shelf ${id}` })) as RecordValues[])
  loadRecords(world.store, tables.get('box')!, boxes.map((box, index) => ({ id: index + 1, ...box })) as RecordValues[])
  return {
    store: world.store,
    table: (name) => tables.get(name)!,
    count: (sql, parameters) => world.store.one(sql, ...parameters) as number,
    close: () => world.store.close(),
  }
}
const ids = (open: Readable, options: ListOptions) => list(open, 'box', options).records.map(({ id }) => id as number)

test('pages that follow each other by a record are the list, forwards and backwards', () => {
  const given = fc.record({
    boxes: fc.array(record, { maxLength: 25 }),
    orderBy: keys,
    limit: fc.integer({ min: 1, max: 7 }),
    where: fc.constantFrom<Record<string, unknown>>({}, { rank: { gt: -2 } }, { name: { empty: false } }),
    search: fc.constantFrom('', 'a'),
  })
  fc.assert(
    fc.property(given, ({ boxes, limit, ...asked }) => {
      const open = readable(boxes)
      const whole = ids(open, { ...asked, limit: 500 })
      const down: number[] = []
      for (let page = ids(open, { ...asked, limit }); page.length > 0; page = ids(open, { ...asked, limit, after: down.at(-1)! }))
        down.push(...page)
      expect(down).toEqual(whole)
      const up: number[] = whole.slice(-1)
      for (let page = up.slice(0, 1); page.length > 0;) {
        page = ids(open, { ...asked, limit, upTo: up[0]! })
        up.unshift(...page)
      }
      expect(up).toEqual(whole)
      for (const [place, id] of whole.entries()) {
        expect(ids(open, { ...asked, limit, after: id, offset: 2 })).toEqual(whole.slice(place + 3, place + 3 + limit))
        expect(ids(open, { ...asked, limit, upTo: id })).toEqual(whole.slice(Math.max(0, place - limit), place))
      }
      open.close()
    }),
    { numRuns: 150 },
  )
})

test('several keys sort one within the other, and the id ends them', () => {
  const open = readable([
    { shelf: 2, name: 'a', rank: 1, mass: null },
    { shelf: 1, name: 'b', rank: 1, mass: null },
    { shelf: 2, name: 'b', rank: 2, mass: null },
    { shelf: 1, name: 'b', rank: 3, mass: null },
    { shelf: null, name: 'b', rank: 3, mass: null },
  ])
  expect(ids(open, { orderBy: 'shelf,-rank' })).toEqual([5, 4, 2, 3, 1])
  expect(ids(open, { orderBy: '-name, shelf' })).toEqual([5, 2, 4, 3, 1])
  open.close()
})

test('a page after a record that is gone, and an order by what is no field, are refused with where and what to do', () => {
  const open = readable([{ shelf: null, name: 'a', rank: 1, mass: null }])
  expect(() => list(open, 'box', { after: 7 })).toThrow(expect.objectContaining({ code: 'save/not-found' }))
  expect(() => list(open, 'box', { orderBy: 'name,-nmae' })).toThrow(expect.objectContaining({ code: 'hook/unknown-field' }))
  expect(() => list(open, 'box', { orderBy: 'name,,rank' })).toThrow(expect.objectContaining({ code: 'hook/bad-query' }))
  open.close()
})
