import fc from 'fast-check'
import { expect, test } from 'vitest'
import { shapeOf } from '../../src/store/shape.js'
import { loadRecords } from '../../src/store/records.js'
import { text, World } from '../world.js'

/** An id is never given twice, also after its record was removed. */

const source = { tables: { item: { fields: { name: text } } } }

test('the last record of the first data is removed, and the next one gets another id', () => {
  const world = new World(source)
  const table = world.environment.project.tables.get('item')!
  loadRecords(
    world.store,
    table,
    [1, 2, 3].map((id) => shapeOf(table).plain({ id, name: `n${id}` })),
  )
  world.run([{ table: 'item', values: { id: 3 }, remove: true }])
  expect(world.put('item', { name: 'new' })).toMatchObject([{ id: 4 }])
})

test('whatever is created and removed, in one save or in several, kept or refused', () => {
  const step = fc.record({ create: fc.nat(3), remove: fc.array(fc.nat(30), { maxLength: 4 }), rehearse: fc.boolean() })
  fc.assert(
    fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
      const world = new World(source)
      const given = new Set<number>()
      for (const { create, remove, rehearse } of steps) {
        const there = world.all('item').map((each) => each['id'] as number)
        const gone = [...new Set(remove.map((at) => there[at % Math.max(1, there.length)]).filter((id) => id !== undefined))]
        const rows = [
          ...gone.map((id) => ({ table: 'item', values: { id }, remove: true })),
          ...Array.from({ length: create }, () => ({ table: 'item', values: { name: 'x' } })),
        ]
        if (rows.length === 0) continue
        const { records, kept } = world.try(rows, { rehearse })
        if (!kept) continue
        for (const record of records)
          if (record) {
            expect(given.has(record.id)).toBe(false)
            given.add(record.id)
          }
      }
      world.store.close()
    }),
    { numRuns: 60, seed: 9 },
  )
})
