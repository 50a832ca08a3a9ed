import { describe, expect, test } from 'vitest'
import { hook, integer, link, text, World } from '../world.js'

/** Tables that link to themselves: a row sees what the rows above it have become in the same save. */

const PATH = hook(`{ table: 'node', moment: 'before-save',
  load: ({ rows, store }) => store.byId('node', rows.map(row => row.now.parent), ['path', 'depth']),
  each(row, parents) {
    const parent = parents.get(row.now.parent)
    row.now.path = (parent ? parent.path + '/' : '') + row.now.name
    row.now.depth = parent ? parent.depth + 1 : 0
  } }`)
const FINISH = hook(`{ table: 'node', moment: 'after-save', load: ({ rows, store }) => rows.length,
  each() {},
  finish({ rows, send, update }) { send('desk', { rows: rows.length }); update('note', 1, { text: 'seen ' + rows.length }) } }`)
const tree = (hooks: Record<string, string>, batchSize = 500) =>
  new World({
    tables: {
      node: { fields: { name: text, parent: link('node'), path: text, depth: integer } },
      note: { fields: { text } },
    },
    hooks,
    project: { batchSize },
  })
const paths = (world: World) => world.all('node').map(({ path }) => path)

describe('children see the new values of their parent', () => {
  test('that is changed in the same save', () => {
    const world = tree({ path: PATH })
    world.put('node', { name: 'a' })
    world.put('node', { name: 'b', parent: 1 })
    world.put('node', { name: 'c', parent: 2 })
    // In any order: the lowest first.
    world.put('node', { id: 3, name: 'C' }, { id: 2, name: 'B' }, { id: 1, name: 'A' })
    expect(paths(world)).toEqual(['A', 'A/B', 'A/B/C'])
  })

  test('that is new, where an existing record is moved below it', () => {
    const world = tree({ path: PATH })
    world.put('node', { name: 'a' })
    world.run([
      { table: 'node', values: { id: 1, parent: { ref: 'top' } } as never },
      { table: 'node', as: 'top', values: { name: 'top' } },
    ])
    expect(paths(world)).toEqual(['top/a', 'top'])
  })

  test('and what links in a circle is saved still', () => {
    const world = tree({ path: PATH })
    world.put('node', { name: 'a' })
    world.put('node', { name: 'b', parent: 1 })
    world.put('node', { id: 1, parent: 2, name: 'A' }, { id: 2, name: 'B' })
    expect(world.all('node').map(({ name }) => name)).toEqual(['A', 'B'])
  })
})

test('finish runs once for the batch, however many generations it has', () => {
  const world = tree({ path: PATH, finish: FINISH })
  world.put('note', { text: '' })
  const { sent } = world.run([
    { table: 'node', as: 'a', values: { name: 'a' } },
    { table: 'node', as: 'b', values: { name: 'b', parent: { ref: 'a' } } as never },
    { table: 'node', as: 'c', values: { name: 'c', parent: { ref: 'b' } } as never },
  ])
  expect(sent.map(({ message }) => message)).toEqual([{ rows: 3 }])
  expect(world.all('note')).toMatchObject([{ text: 'seen 3' }])
})

test('a chain of 101 rows asks no more than a batch does', () => {
  const world = tree({ path: PATH })
  const rows = Array.from({ length: 101 }, (_, at) => ({
    table: 'node',
    as: `n${at}`,
    values: { name: `${at}`, ...(at > 0 ? { parent: { ref: `n${at - 1}` } } : {}) } as never,
  }))
  const { spent } = world.run(rows)
  expect(world.all('node').at(-1)).toMatchObject({ depth: 100 })
  expect(spent.queries).toBeLessThanOrEqual(2)
  // The same records once more, all of them changed.
  const again = world.run(
    world.all('node').map(({ id, name }) => ({ table: 'node', values: { id: id!, name: `x${String(name)}` } })),
  )
  expect(again.spent.queries).toBeLessThanOrEqual(2)
  expect(paths(world).at(2)).toBe('x0/x1/x2')
})
