import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { hook, integer, link, text, World } from '../world.js'

/** Records trade unique values in one save, whatever its batches are. */

const shelf = (batchSize: number, hooks: Record<string, string> = {}) =>
  new World({
    tables: {
      shelf: { fields: { name: text } },
      box: {
        fields: { place: { ...integer, 'x-unique': true }, shelf: link('shelf', 'cascade'), below: link('box'), code: text },
        unique: [['shelf', 'code']],
      },
    },
    hooks,
    project: { batchSize },
  })
const indexes = (world: World) =>
  world.store.db.prepare(`SELECT sql FROM sqlite_master WHERE type = 'index' AND sql LIKE '%UNIQUE%' ORDER BY name`).all()

describe.each([1, 2, 3, 500])('in batches of %i', (batchSize) => {
  test('any rearrangement of values is kept, and a value that stays taken is refused', () => {
    fc.assert(
      fc.property(
        fc.shuffledSubarray([0, 1, 2, 3, 4, 5, 6], { minLength: 2 }),
        fc.shuffledSubarray([0, 1, 2, 3, 4, 5, 6], { minLength: 7 }),
        fc.boolean(),
        (who, places, partial) => {
          const world = shelf(batchSize)
          world.put('shelf', { name: 'a' })
          world.put('box', ...[0, 1, 2, 3, 4, 5, 6].map((place) => ({ place, shelf: 1, code: `c${place}` })))
          const before = indexes(world)
          // The chosen boxes get other places; whether that leaves two at one place, plain arithmetic says.
          const rows = who.map((box, at) => ({
            table: 'box',
            values: { id: box + 1, place: places[at]!, code: `c${places[at]!}` },
          }))
          const then = [0, 1, 2, 3, 4, 5, 6].map((box) => (who.includes(box) ? places[who.indexOf(box)]! : box))
          const outcome = world.try(rows, { partial })
          if (new Set(then).size === 7) {
            expect(outcome.error).toBeNull()
            expect(world.all('box').map(({ place }) => place)).toEqual(then)
          } else {
            expect(outcome.refusals[0]?.code ?? outcome.error?.refusals?.[0]?.code).toBe('check/unique')
            if (!partial) expect(world.all('box').map(({ place }) => place)).toEqual([0, 1, 2, 3, 4, 5, 6])
          }
          const kept = world.all('box').map(({ place }) => place)
          expect(new Set(kept).size).toBe(7)
          expect(indexes(world)).toEqual(before)
        },
      ),
      { numRuns: 40 },
    )
  })

  test('a new record takes what one gives up that comes later, or that goes', () => {
    const world = shelf(batchSize)
    world.put('box', { place: 1 }, { place: 2 }, { place: 3 })
    world.run([
      { table: 'box', values: { place: 1 } },
      { table: 'box', values: { place: 2 } },
      { table: 'box', values: { id: 1, place: 4 } },
      { table: 'box', values: { id: 2 }, remove: true },
    ])
    expect(world.all('box').map(({ id, place }) => [id, place])).toEqual([
      [1, 4],
      [3, 3],
      [4, 1],
      [5, 2],
    ])
  })

  test('in a table that links to itself, between what links and what is linked to', () => {
    const world = shelf(batchSize)
    world.put('box', { place: 1 }, { place: 2, below: 1 })
    world.run([
      { table: 'box', values: { id: 2, place: 1 } },
      { table: 'box', values: { id: 1, place: 2 } },
    ])
    expect(world.all('box').map(({ place }) => place)).toEqual([2, 1])
  })

  test('in a ripple that moves all by one', () => {
    const world = shelf(batchSize, {
      move: hook(`{ table: 'shelf', moment: 'after-save', on: ['update'],
        load: ({ rows, store }) => store.children('box', 'shelf', rows.map(row => row.id), ['place']),
        each(row, boxes, { update }) { for (const box of boxes.get(row.id)) update('box', box.id, { place: box.place + 1 }) } }`),
    })
    world.put('shelf', { name: 'a' })
    world.put('box', ...Array.from({ length: 7 }, (_, place) => ({ place, shelf: 1, code: `c${place}` })))
    world.put('shelf', { id: 1, name: 'b' })
    expect(world.all('box').map(({ place }) => place)).toEqual([1, 2, 3, 4, 5, 6, 7])
  })
})

test('what turns out to be kept is refused by the row that wanted it', () => {
  const world = shelf(1)
  world.put('box', { place: 1 }, { place: 2 })
  const outcome = world.try([
    { table: 'box', values: { id: 1, place: 2 } },
    { table: 'box', values: { id: 2, code: 'stays' } },
  ])
  expect(outcome.refusals).toMatchObject([{ code: 'check/unique', table: 'box', id: 1, row: 1, field: 'place' }])
  const partly = world.try(
    [
      { table: 'box', values: { id: 1, place: 2 } },
      { table: 'box', values: { id: 2, code: 'stays' } },
    ],
    { partial: true },
  )
  expect(partly.refusals).toMatchObject([{ code: 'check/unique', row: 1 }])
  expect(world.all('box')).toMatchObject([
    { place: 1, code: null },
    { place: 2, code: 'stays' },
  ])
})
