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
