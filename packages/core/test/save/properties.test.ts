import fastJsonPatch from 'fast-json-patch'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { hook, integer, link, number, text, World, type Source } from '../world.js'

/** Properties of the save path that hold for any batch. */

const source = (batchSize: number): Source => ({
  project: { batchSize, sequences: { s: { prefix: 'S', digits: 4, start: 1 } } },
  tables: {
    parent: { fields: { rate: integer, name: text, pushed: integer } },
    child: { fields: { parent: link('parent'), qty: { ...integer, minimum: 0 }, rate: integer, amount: number, note: text } },
  },
  hooks: {
    copy: hook(
      `{ table: 'child', moment: 'before-save', watch: ['parent'], load: ({ rows, store }) => store.byId('parent', rows.map(r => r.now.parent), ['rate']), each(row, parents) { row.now.rate = parents.get(row.now.parent)?.rate ?? null } }`,
    ),
    derive: hook(
      `{ table: 'child', moment: 'before-save', after: ['copy'], watch: ['qty', 'rate'], each(row) { row.now.amount = row.now.qty === null || row.now.rate === null ? null : row.now.qty * row.now.rate / 4 } }`,
    ),
    note: hook(
      `{ table: 'child', moment: 'before-save', after: ['derive'], only: row => row.now.note === null, each(row) { row.now.note = 'amount ' + row.now.amount } }`,
    ),
    refuse: hook(
      `{ table: 'child', moment: 'before-save', after: ['note'], each(row) { if (row.now.qty === 13) row.refuse('qty', 'unlucky') } }`,
    ),
    push: hook(
      `{ table: 'parent', moment: 'after-save', on: ['update'], watch: ['rate'], load: ({ rows, store }) => store.children('child', 'parent', rows.map(r => r.id), []), each(row, children, { update }) { for (const child of children.get(row.id) ?? []) update('child', child.id, { rate: row.now.rate }) } }`,
    ),
    told: hook(
      `{ table: 'child', moment: 'after-save', each(row, _, { send }) { send('told', { id: row.id, qty: row.now.qty }) } }`,
    ),
  },
})
const start = (batchSize = 500) => {
  const world = new World(source(batchSize))
  world.put('parent', { rate: 1 }, { rate: 5 }, { rate: null })
  return world
}
const child = fc.record({
  parent: fc.option(fc.integer({ min: 1, max: 3 }), { nil: null }),
  qty: fc.option(fc.integer({ min: 0, max: 20 }), { nil: null }),
  note: fc.option(fc.constantFrom('a', 'b'), { nil: null }),
})
const batch = fc.array(child, { minLength: 1, maxLength: 12 })
const inputs = (rows: Record<string, string | number | null>[]) => rows.map((values) => ({ table: 'child', values }))
const without = (rows: Record<string, unknown>[]) => rows.map(({ id: _, ...rest }) => JSON.stringify(rest)).sort()
const runs = { numRuns: 120, seed: 31 }

describe('for any batch', () => {
  test('saving again changes nothing, writes nothing and wakes no after-save hook', () => {
    fc.assert(
      fc.property(batch, (rows) => {
        const world = start()
        const { records } = world.run(inputs(rows), { partial: true })
        const before = world.all('child')
        const kept = records.filter((each) => each !== null)
        if (kept.length === 0) return
        const again = world.run(kept.map((values) => ({ table: 'child', values })))
        expect(again.spent.rowsWritten).toBe(0)
        expect(again.sent).toEqual([])
        expect(world.all('child')).toEqual(before)
      }),
      runs,
    )
  })

  test('a batch equals its rows one at a time', () => {
    fc.assert(
      fc.property(batch, (rows) => {
        const together = start()
        together.run(inputs(rows), { partial: true })
        const single = start()
        for (const row of inputs(rows)) single.try([row])
        expect(without(together.all('child'))).toEqual(without(single.all('child')))
        expect(without(together.all('ph_outbox').map((each) => ({ channel: each['channel'] })))).toEqual(
          without(single.all('ph_outbox').map((each) => ({ channel: each['channel'] }))),
        )
      }),
      runs,
    )
  })

  test('neither the order of rows nor the size of batches matters', () => {
    fc.assert(
      fc.property(batch, fc.integer({ min: 1, max: 5 }), (rows, size) => {
        const one = start()
        one.run(inputs(rows), { partial: true })
        const other = start(size)
        other.run(inputs([...rows].reverse()), { partial: true })
        expect(without(one.all('child'))).toEqual(without(other.all('child')))
      }),
      runs,
    )
  })

  test('partial equals saving the good rows alone, and all-or-nothing keeps nothing', () => {
    fc.assert(
      fc.property(batch, (rows) => {
        const partial = start()
        const { refusals, records } = partial.run(inputs(rows), { partial: true })
        const bad = new Set(refusals.map((each) => each.row))
        const good = rows.filter((_, i) => !bad.has(i + 1))
        const alone = start()
        if (good.length > 0) alone.run(inputs(good))
        expect(without(partial.all('child'))).toEqual(without(alone.all('child')))
        expect(records.map((each) => each === null)).toEqual(rows.map((_, i) => bad.has(i + 1)))
        const strict = start()
        const { error } = strict.try(inputs(rows))
        expect(error === null).toBe(bad.size === 0)
        if (error) expect(strict.all('child')).toEqual([])
      }),
      runs,
    )
  })

  test('a rehearsal equals the save in all but being kept', () => {
    fc.assert(
      fc.property(batch, (rows) => {
        const world = start()
        const rehearsed = world.try(inputs(rows), { rehearse: true })
        expect(world.all('child')).toEqual([])
        expect(world.all('ph_history').length + world.all('ph_outbox').length).toBe(3)
        const saved = world.try(inputs(rows))
        const { spent: a, save: _, kept: __, took: _took, ...before } = rehearsed
        const { spent: b, save: ___, kept: ____, took: _time, ...after } = saved
        expect(before).toEqual(after)
        expect({ ...a, ms: 0 }).toEqual({ ...b, ms: 0 })
      }),
      runs,
    )
  })

  // fast-json-patch, a library we did not write, applies our RFC 6902 patches; its `test` operations check the old values.
  test('the history leads from was to now', () => {
    fc.assert(
      fc.property(
        batch,
        fc.array(fc.record({ parent: fc.integer({ min: 1, max: 3 }), rate: fc.integer({ min: 0, max: 9 }) }), { maxLength: 4 }),
        (rows, changes) => {
          const world = start()
          world.run(inputs(rows), { partial: true })
          for (const { parent, rate } of changes) world.try([{ table: 'parent', values: { id: parent, rate } }])
          for (const table of ['parent', 'child'])
            for (const record of world.all(table)) {
              let document: unknown = null
              for (const { patch } of world
                .all('ph_history')
                .filter((each) => each['tbl'] === table && each['record'] === record['id']))
                document = fastJsonPatch.applyPatch(
                  document,
                  JSON.parse(patch as string) as import('fast-json-patch').Operation[],
                  true,
                ).newDocument
              expect(document).toEqual(record)
            }
        },
      ),
      runs,
    )
  })
})
