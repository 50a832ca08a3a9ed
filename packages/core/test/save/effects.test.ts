import { describe, expect, test } from 'vitest'
import { hook, World } from '../world.js'
import { tables } from './parent-child.js'

/** What after-save hooks ask for, and the ripples of it. */

describe('effects and ripples', () => {
  test('after-save updates are merged and saved through the same path, one level lower', () => {
    const world = new World({
      tables,
      hooks: {
        push: hook(`{ table: 'child', moment: 'after-save', watch: ['qty', 'parent'],
          finish({ rows, store, update }) { for (const [id, sum] of store.rollup('child', 'parent', rows.map(r => r.now.parent), { sum: ['qty'], count: true })) update('parent', id, { total: sum.sum.qty }) } }`),
        size: hook(
          `{ table: 'parent', moment: 'before-save', watch: ['total'], each(row) { row.now.size = (row.now.total ?? 0) > 10 ? 'l' : 's' } }`,
        ),
      },
    })
    world.put('parent', { name: 'p' })
    const outcome = world.run([1, 2, 3].map((qty) => ({ table: 'child', values: { parent: 1, qty } })))
    expect(outcome.spent).toMatchObject({ ripples: 1, rowsWritten: 4 })
    expect(world.all('parent')[0]).toMatchObject({ total: 6, size: 's' })
    world.put('child', { parent: 1, qty: 30 })
    expect(world.all('parent')[0]).toMatchObject({ total: 36, size: 'l' })
    const ripple = outcome.rows.find((row) => row.depth === 1)!
    expect(ripple.changes).toEqual([
      { field: 'total', from: null, to: 6, by: 'push', kind: 'ripple' },
      { field: 'size', from: null, to: 's', by: 'size', kind: 'hook' },
    ])
  })

  test('what a before-save hook makes of an asked value is the hook’s', () => {
    const world = new World({
      tables,
      hooks: {
        push: hook(
          `{ table: 'child', moment: 'after-save', each(row, _, { update }) { update('parent', row.now.parent, { total: row.now.qty, size: 's' }) } }`,
        ),
        size: hook(`{ table: 'parent', moment: 'before-save', on: ['update'], each(row) { row.now.size = 'l' } }`),
      },
    })
    world.put('parent', { name: 'p' })
    const { rows } = world.run([{ table: 'child', values: { parent: 1, qty: 4 } }])
    expect(rows.find((row) => row.depth === 1)!.changes).toEqual([
      { field: 'total', from: null, to: 4, by: 'push', kind: 'ripple' },
      { field: 'size', from: null, to: 'l', by: 'size', kind: 'hook' },
    ])
  })

  test('an effect that changes nothing is neither written nor rippled', () => {
    const world = new World({
      tables,
      hooks: {
        same: hook(
          `{ table: 'child', moment: 'after-save', each(row, _, { update }) { update('child', row.id, { note: 'seen' }) } }`,
        ),
      },
    })
    const outcome = world.run([{ table: 'child', values: {} }])
    expect(outcome.spent).toMatchObject({ ripples: 2, rowsWritten: 2 })
    expect(world.all('ph_history')).toHaveLength(2)
  })

  test('a hook that wakes itself for ever is stopped with the chain', () => {
    const world = new World({
      tables,
      hooks: {
        loop: hook(
          `{ table: 'child', moment: 'after-save', each(row, _, { update }) { update('child', row.id, { qty: (row.now.qty ?? 0) + 1 }) } }`,
        ),
      },
    })
    const { error } = world.try([{ table: 'child', values: { qty: 0 } }])
    expect(error).toMatchObject({ code: 'budget/spent' })
    expect(error!.message).toMatch(/8 ripple depth \(9 spent\); the ripples: loop \(9 times\); child 1 keeps changing in qty$/)
    expect(world.all('child')).toHaveLength(0)
  })

  test('two rows that write different values to one field are reported', () => {
    const world = new World({
      tables,
      hooks: {
        push: hook(
          `{ table: 'child', moment: 'after-save', each(row, _, { update }) { if (row.now.parent) update('parent', row.now.parent, { name: 'from ' + row.now.qty }) } }`,
        ),
      },
    })
    world.put('parent', { name: 'p' })
    const { error } = world.try([
      { table: 'child', values: { parent: 1, qty: 1 } },
      { table: 'child', values: { parent: 1, qty: 2 } },
    ])
    expect(error).toMatchObject({ code: 'effects/conflict', table: 'parent', field: 'name', hook: 'push' })
    expect(error!.message).toMatch(/"from 1" by push for child 1 and to "from 2" by push for child 2/)
    world.put('child', { parent: 1, qty: 1 }, { qty: 2 })
    expect(world.all('parent')[0]!['name']).toBe('from 1')
  })

  test('create, remove and send', () => {
    const world = new World({
      tables,
      hooks: {
        h: hook(
          `{ table: 'parent', moment: 'after-save', each(row, _, { create, remove, send }) { create('child', { parent: row.id, note: 'made' }); if (row.event === 'update') remove('child', 1); send('mail', { to: row.now.name }) } }`,
        ),
      },
    })
    world.put('parent', { name: 'p' })
    expect(world.all('child')).toMatchObject([{ parent: 1, note: 'made' }])
    world.put('parent', { id: 1, name: 'q' })
    expect(world.all('child').map((each) => each['id'])).toEqual([2])
    expect(world.all('ph_outbox').map((each) => JSON.parse(each['payload'] as string) as unknown)).toEqual([
      { to: 'p' },
      { to: 'q' },
    ])
  })
})
