import { expect, test } from 'vitest'
import { brokenBy, type Example } from './world.js'

/** Hooks as they should be: every property holds of each, numbering and roll-ups among them. */

const good: Example[] = [
  {
    name: 'derives',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['grams'], each(row) { row.now.kilos = (row.now.grams ?? 0) / 1000 } }`,
  },
  {
    name: 'numbers',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'], only: row => row.now.number === null,
      each(row, _, { next }) { row.now.number = next('parcel') } }`,
  },
  {
    name: 'numbers-and-labels',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'],
      each(row, _, { next }) { row.now.number = next('parcel'); row.now.label = 'no. ' + row.now.number } }`,
  },
  {
    name: 'copies-through-a-link',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['van'],
      load: ({ rows, store }) => store.byId('van', rows.map(row => row.now.van), ['note']),
      each(row, vans) { row.now.note = vans.get(row.now.van)?.note ?? null } }`,
  },
  {
    name: 'default-through-a-link',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'], watch: ['van'], only: row => row.now.note === null,
      load: ({ rows, store }) => store.byId('van', rows.map(row => row.now.van), ['note']),
      each(row, vans) { row.now.note = vans.get(row.now.van)?.note ?? null } }`,
  },
  {
    name: 'rolls-up-a-count',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['create', 'update', 'delete'],
      finish({ rows, store, update }) {
        const vans = rows.flatMap(row => [row.now?.van, row.was?.van])
        for (const [id, { count }] of store.rollup('parcel', 'van', vans, { count: true })) update('van', id, { parcels: count })
      } }`,
  },
  {
    name: 'rolls-up-a-sum',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['create', 'update', 'delete'],
      finish({ rows, store, update }) {
        const vans = rows.flatMap(row => [row.now?.van, row.was?.van])
        for (const [id, { sum }] of store.rollup('parcel', 'van', vans, { sum: ['grams'] })) update('van', id, { grams: sum.grams })
      } }`,
  },
  {
    name: 'refuses',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['grams'],
      each(row) { if ((row.now.grams ?? 0) > 150) row.refuse('grams', 'too heavy') } }`,
  },
  {
    name: 'refuses-by-a-link',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['van'],
      load: ({ rows, store }) => store.byId('van', rows.map(row => row.now.van), ['status']),
      each(row, vans) { if (vans.get(row.now.van)?.status === 'full') row.refuse('van', 'the van is full') } }`,
  },
  {
    name: 'pushes-to-children',
    literal: `{ table: 'van', moment: 'after-save', on: ['update'], watch: ['note'],
      each(row, _, { update }) { update('parcel', { van: row.id }, { note: row.now.note }) } }`,
  },
  {
    name: 'a-slip-for-each',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['create'],
      each(row, _, { create }) { create('slip', { parcel: row.id, van: row.now.van, word: 'new' }) } }`,
  },
  {
    name: 'tells-the-desk',
    literal: `{ table: 'parcel', moment: 'after-save', watch: ['fragile'], only: row => row.now.fragile === true,
      each(row, _, { send }) { send('desk', { id: row.id, parcel: row.id }) } }`,
  },
  {
    name: 'removes-its-slips',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['update'], watch: ['van'],
      each(row, _, { remove }) { remove('slip', { parcel: row.id }) } }`,
  },
  {
    name: 'limits-a-van',
    literal: `{ table: 'van', moment: 'before-commit', touchedBy: ['parcel.van'],
      load: ({ rows, store }) => store.rollup('parcel', 'van', rows.map(row => row.id), { count: true }),
      each(row, rolled) { if ((rolled.get(row.id)?.count ?? 0) > 4) row.refuse(null, 'four at most') } }`,
  },
  {
    name: 'stamps-the-clock',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['grams'], each(row, _, { clock }) { row.now.label = 'weighed ' + clock } }`,
  },
  {
    name: 'says-that-it-is-a-copy',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'], only: row => row.copiedFrom !== null, each(row) { row.now.note = 'copy of ' + row.copiedFrom } }`,
  },
  {
    name: 'tells-the-desk-in-words',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['create'], each(row, _, { send }) { send('desk', { text: 'parcel ' + row.id + '.' }) } }`,
  },
  {
    name: 'sets-apart-what-may-not-be-twice',
    literal: `{ table: 'shelf', moment: 'before-save', watch: ['place'], each(row) { row.now.word = row.now.place === null ? 'none' : 'at ' + row.now.place } }`,
  },
  {
    name: 'sorts-what-is-at-a-link-once',
    literal: `{ table: 'seat', moment: 'before-save', each(row) { row.now.word = row.now.van === null ? 'walks' : 'rides' } }`,
  },
  {
    name: 'clears-when-it-becomes',
    literal: `{ table: 'van', moment: 'before-save', watch: ['status'], only: row => row.became(van => van.status === 'full'), each(row) { row.now.note = null } }`,
  },
  {
    name: 'goes-through-the-batch-once',
    literal: `{ table: 'parcel', moment: 'after-save', watch: ['van'],
      finish({ rows, store, update }) {
        const vans = new Map()
        for (const row of rows) for (const van of [row.now.van, row.was?.van ?? null]) if (van !== null) vans.set(van, true)
        const children = store.children('parcel', 'van', vans.keys(), ['grams'])
        for (const van of vans.keys()) update('van', van, { parcels: children.get(van)?.length ?? 0 })
      } }`,
  },
  {
    name: 'when-removed',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['delete'], each(row, _, { send }) { send('desk', { gone: row.was.number }) } }`,
  },
]

test('there are at least fifteen', () => expect(good.length).toBeGreaterThanOrEqual(15))

test.each(good.map((example) => [example.name, example] as const))('%s', (_, example) => {
  const verdicts = brokenBy(example)
  expect(verdicts).toHaveLength(8)
  expect(verdicts.filter(({ holds }) => !holds).map(({ property, reason, batch }) => ({ property, reason, batch }))).toEqual([])
})
