import { describe, expect, test } from 'vitest'
import { leftIn } from '../../src/backfill/backfill-store.js'
import { hook } from '../world.js'
import { items, run, tables, wish, worldOf } from './backfill-world.js'

/** Numbers of a series that a backfill gives, and what stays of them when it is undone; what others changed since is left. */

describe('numbers', () => {
  const project = {
    sequences: {
      s: { prefix: 'A-', digits: 3, start: 5 },
      w: { prefix: 'W', digits: 2, start: 1 },
      g: { prefix: 'G', digits: 2, start: 1 },
    },
  }

  test('come in the order that is asked for, pass by those that are taken, and go on in hooks', () => {
    const world = worldOf(
      {
        tables,
        project,
        hooks: {
          number: hook(
            `{ table: 'item', moment: 'before-save', on: ['create'], each(row, _, { next }) { row.now.number = next('s') } }`,
          ),
        },
      },
      { item: items(6, (id) => ({ size: 10 - id, ...(id === 2 ? { number: 'A-006' } : {}) })) },
    )
    const done = run(world, wish({ where: { number: null }, order: ['size'], number: { field: 'number', series: 's' } }), 2)
    expect(world.all('item').map(({ number }) => number)).toEqual(['A-010', 'A-006', 'A-009', 'A-008', 'A-007', 'A-005'])
    expect(done.figures).toMatchObject({ changed: 5, numbers: { s: { first: 'A-005', last: 'A-010', count: 5 } } })
    expect(world.put('item', { name: 'new' })[0]!['number']).toBe('A-011')
  })

  test('by kind have a series each; a refused record takes none, and one of no kind is reported', () => {
    const world = worldOf(
      {
        tables,
        project,
        hooks: {
          no: hook(
            `{ table: 'item', moment: 'before-save', watch: ['number'], each(row) { if (row.id === 3) row.refuse(null, 'not this one') } }`,
          ),
        },
      },
      { item: items(7, (id) => ({ kind: id === 6 ? null : id % 2 ? 'wild' : 'garden' })) },
    )
    const done = run(world, wish({ number: { field: 'number', series: { by: 'kind', of: { wild: 'w', garden: 'g' } } } }), 4)
    expect(world.all('item').map(({ number }) => number)).toEqual(['W01', 'G01', null, 'G02', 'W02', null, 'W03'])
    expect(leftIn(world.store, done.id, 10).map(({ id, field }) => [id, field])).toEqual([
      [3, null],
      [6, 'kind'],
    ])
  })

  test('do not go back when the backfill is taken back', () => {
    const world = worldOf({ tables, project }, { item: items(3) })
    const what = wish({ number: { field: 'number', series: 's' } })
    const first = run(world, what)
    run(world, { undo: first.id })
    expect(world.all('item').map(({ number }) => number)).toEqual([null, null, null])
    run(world, what)
    expect(world.all('item').map(({ number }) => number)).toEqual(['A-008', 'A-009', 'A-010'])
  })
})

describe('taking back', () => {
  test('leaves what was changed since, also where it has come back to the same value', () => {
    const world = worldOf({ tables }, { item: items(4, () => ({ kind: 'k' })) })
    const done = run(world, wish({ set: { kind: 'new', label: 'l' } }))
    world.put('item', { id: 1, kind: 'mine' })
    world.put('item', { id: 2, kind: 'other' })
    world.put('item', { id: 2, kind: 'new' })
    world.put('item', { id: 3, size: 4 })
    world.run([{ table: 'item', id: 4, remove: true }])
    const undone = run(world, { undo: done.id })
    expect(world.all('item').map(({ kind, label, size }) => [kind, label, size])).toEqual([
      ['mine', null, null],
      ['new', null, null],
      ['k', null, 4],
    ])
    expect(undone.figures).toMatchObject({ changed: 3, left: 3 })
    expect(
      leftIn(world.store, undone.id, 10)
        .map(({ id, field }) => [id, field])
        .sort(),
    ).toEqual([
      [1, 'kind'],
      [2, 'kind'],
      [4, null],
    ])
  })
})
