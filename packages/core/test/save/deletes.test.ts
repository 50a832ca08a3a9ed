import { describe, expect, test } from 'vitest'
import { flag, hook, link, text, World } from '../world.js'

/** What hooks can still read when records go. */

const tables = {
  house: { fields: { name: text, open: flag } },
  room: { fields: { house: link('house', 'cascade'), name: text } },
  bed: { fields: { room: link('room', 'cascade'), name: text } },
}
const tell = (moment: string, on = "['delete']") =>
  hook(`{ table: 'bed', moment: '${moment}', on: ${on},
    load({ rows, store }) {
      const rooms = store.byId('room', rows.map((row) => (row.was ?? row.now).room))
      return { rooms, houses: store.byId('house', [...rooms.values()].map((room) => room.house), ['name', 'open']), found: store.find('room', {}) }
    },
    each(row, { rooms, houses, found }, { log }) {
      const room = rooms.get((row.was ?? row.now).room)
      const house = houses.get(room?.house)
      log([row.event, room?.name ?? null, house?.name ?? null, house?.open ?? null, found.length].join(' '))
    } }`)

function inn(hooks: Record<string, string>): World {
  const world = new World({ tables, hooks })
  world.put('house', { name: 'North', open: false })
  world.put('room', { house: 1, name: 'Blue' })
  world.put('bed', { room: 1, name: 'b1' }, { room: 1, name: 'b2' })
  return world
}

describe('a hook on delete of a cascaded child reads its parent as it was', () => {
  test.each(['before-save', 'after-save', 'before-commit'])('at %s, by byId, over two links', (moment) => {
    const { logs } = inn({ tell: tell(moment) }).run([{ table: 'house', values: { id: 1 }, remove: true }])
    // A look-up by condition tells of what there still is.
    expect(logs.map((line) => line.text)).toEqual(['delete Blue North false 0', 'delete Blue North false 0'])
  })

  test('also when parent and child are removed by hand in one save', () => {
    const { logs } = inn({ tell: tell('after-save') }).run([
      { table: 'room', values: { id: 1 }, remove: true },
      { table: 'bed', values: { id: 2 }, remove: true },
    ])
    expect(logs.map((line) => line.text)).toContain('delete Blue North false 0')
  })

  test('a hook that runs for no deleted row finds nothing of what went', () => {
    const look = hook(
      `{ table: 'bed', moment: 'after-save', load: ({ store }) => store.byId('room', [1, 2]), each(row, rooms, { log }) { log(rooms.size) } }`,
    )
    const world = inn({ look })
    const { logs } = world.run([
      { table: 'room', values: { name: 'Red' }, as: 'red' },
      { table: 'bed', values: { id: 1, room: { ref: 'red' } } },
      { table: 'bed', values: { id: 2, room: { ref: 'red' } } },
      { table: 'room', values: { id: 1 }, remove: true },
    ])
    expect(new Set(logs.map((line) => line.text))).toEqual(new Set(['1']))
  })
})

describe('what links to a removed record', () => {
  const chain = (count: number, hooks: Record<string, string> = {}, onDelete = 'cascade') => {
    const world = new World({
      tables: { node: { fields: { name: text, parent: link('node', onDelete) } } },
      hooks,
      project: { budgets: { ripples: 3 } },
    })
    world.load(
      'node',
      Array.from({ length: count }, (_, at) => ({ id: at + 1, name: `n${at + 1}`, parent: at === 0 ? null : at })),
    )
    return world
  }

  test('goes with it however deep that leads: only what hooks ask for counts against the ripple budget', () => {
    const world = chain(40)
    const { spent } = world.run([{ table: 'node', values: { id: 1 }, remove: true }])
    expect([world.all('node').length, spent.ripples]).toEqual([0, 0])
  })

  test('a hook that goes on without end beside it is stopped still', () => {
    const world = chain(40, {
      again: hook(
        `{ table: 'node', moment: 'after-save', on: ['delete', 'create'], each(row, _, { create }) { create('node', { name: 'x' }) } }`,
      ),
    })
    expect(world.try([{ table: 'node', values: { id: 1 }, remove: true }]).error?.code).toBe('budget/spent')
    expect(world.all('node')).toHaveLength(40)
  })

  test.each(['cascade', 'clear'])('is moved to another record by a hook before %s takes it', (onDelete) => {
    for (const move of [
      `each(row, _, { update }) { update('room', { house: row.id }, { house: 2 }) }`,
      `load: ({ rows, store }) => store.children('room', 'house', rows.map(row => row.id), []), each(row, rooms, { update }) { for (const room of rooms.get(row.id)) update('room', room.id, { house: 2 }) }`,
    ]) {
      const world = new World({
        tables: { ...tables, room: { fields: { house: link('house', onDelete), name: text } } },
        hooks: { move: hook(`{ table: 'house', moment: 'after-save', on: ['delete'], ${move} }`) },
      })
      world.put('house', { name: 'North' }, { name: 'South' })
      world.put('room', { house: 1, name: 'Blue' }, { house: 1, name: 'Red' }, { house: 2, name: 'Green' })
      world.run([{ table: 'house', values: { id: 1 }, remove: true }])
      expect(world.all('room').map(({ name, house }) => [name, house])).toEqual([
        ['Blue', 2],
        ['Red', 2],
        ['Green', 2],
      ])
    }
  })
})
