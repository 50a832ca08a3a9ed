import type { BackfillInfo, BackfillWish } from '@patient-hook/contract'
import { describe, expect, test } from 'vitest'
import { beginBackfill, leftIn, readBackfill } from '../../src/backfill/backfill-store.js'
import { planBackfill } from '../../src/backfill/plan.js'
import { stepBackfill } from '../../src/backfill/step.js'
import { checkWish } from '../../src/backfill/wish.js'
import { readHistory } from '../../src/save/history.js'
import { hook, World, type Source } from '../world.js'
import { items, run, tables, wish, worldOf } from './backfill-world.js'

/** What a backfill does to records that are there, batch by batch, and how it is undone. */

describe('chosen hooks', () => {
  test('run as if each watched field had just changed; only holds', () => {
    const world = worldOf(
      {
        tables,
        hooks: {
          label: hook(`{ table: 'item', moment: 'before-save', watch: ['name', 'kind'], only: row => row.now.size !== 9,
            each(row) { row.now.label = [row.now.name, row.was.name, row.changed('name'), row.changed('size'), row.event].join(' ') } }`),
        },
      },
      { item: items(5, (id) => ({ size: id === 2 ? 9 : 1, ...(id === 3 ? { name: null } : {}) })) },
    )
    const done = run(world, wish({ hooks: ['label'] }))
    expect(world.all('item').map(({ label }) => label)).toEqual([
      'n1  true false update',
      null,
      null,
      'n4  true false update',
      'n5  true false update',
    ])
    expect(done).toMatchObject({ state: 'done', total: 5, done: 5, figures: { changed: 3, fields: { label: 3 }, left: 0 } })
    const [entry] = readHistory(world.store, 'item', 1)
    expect(entry).toMatchObject({ event: 'update', changes: [{ field: 'label', from: null, by: 'p/label@1.2.3' }] })
  })

  test('of create only are given the record as if it were new', () => {
    const world = worldOf(
      {
        tables,
        hooks: {
          fill: hook(`{ table: 'item', moment: 'before-save', on: ['create'],
            each(row) { row.now.label = row.event + ' ' + (row.was === null) } }`),
        },
      },
      { item: items(2) },
    )
    run(world, wish({ hooks: ['fill'] }))
    expect(world.all('item').map(({ label }) => label)).toEqual(['create true', 'create true'])
  })

  test('others run where what was set wakes them, as in any save', () => {
    const world = worldOf(
      {
        tables,
        hooks: {
          label: hook(
            `{ table: 'item', moment: 'before-save', watch: ['name'], each(row) { row.now.label = 'l ' + row.now.name } }`,
          ),
          size: hook(
            `{ table: 'item', moment: 'before-save', after: ['label'], watch: ['label'], each(row) { row.now.size = row.now.label.length } }`,
          ),
          never: hook(`{ table: 'item', moment: 'before-save', watch: ['kind'], each(row) { row.now.size = -1 } }`),
        },
      },
      { item: items(2) },
    )
    run(world, wish({ hooks: ['label'] }))
    expect(world.all('item').map(({ label, size }) => [label, size])).toEqual([
      ['l n1', 4],
      ['l n2', 4],
    ])
  })

  const counting: Source = {
    tables,
    hooks: {
      count: hook(`{ table: 'item', moment: 'after-save', watch: ['box'],
        load: ({ rows, store }) => store.rollup('item', 'box', rows.map(row => row.now?.box ?? null), { count: true }),
        each(row, boxes, { update, create, send }) {
          if (row.now.box === null) return
          update('box', row.now.box, { count: boxes.get(row.now.box)?.count ?? 0 })
          send('mail', { item: row.id })
          if (row.now.size === 7) create('box', { name: 'for ' + row.now.name })
        } }`),
    },
  }
  const boxed = {
    box: [
      { id: 1, name: 'a' },
      { id: 2, name: 'b' },
    ],
    item: items(4, (id) => ({ box: id === 4 ? 2 : 1, size: id === 2 ? 7 : 1 })),
  }

  test('of after-save: what they ask for is counted and held back', () => {
    const world = worldOf(counting, boxed)
    const done = run(world, wish({ hooks: ['count'] }), 10)
    expect(world.all('box').map(({ count }) => count)).toEqual([null, null])
    expect(world.all('ph_outbox')).toEqual([])
    expect(done.figures).toMatchObject({
      changed: 0,
      heldEffects: { box: 3 },
      heldMessages: { mail: 4 },
      effects: {},
      messages: {},
    })
  })

  test('of after-save: done where it is asked for, and undone with what they created', () => {
    const world = worldOf(counting, boxed)
    const before = [world.all('item'), world.all('box')]
    const done = run(world, wish({ hooks: ['count'], withEffects: true, withMessages: true }), 10)
    expect(world.all('box').map(({ name, count }) => [name, count])).toEqual([
      ['a', 3],
      ['b', 1],
      ['for n2', null],
    ])
    expect(world.all('ph_outbox')).toHaveLength(4)
    expect(done.figures).toMatchObject({ changed: 0, effects: { box: 3 }, messages: { mail: 4 }, heldMessages: {} })
    const undone = run(world, { undo: done.id })
    expect([world.all('item'), world.all('box')]).toEqual(before)
    expect(undone).toMatchObject({ state: 'done', undoes: done.id, figures: { left: 0 } })
    expect(readBackfill(world.store, done.id).undoneBy).toBe(undone.id)
  })

  test('that refuse leave their records, and say why', () => {
    const world = worldOf(
      {
        tables,
        hooks: {
          even: hook(
            `{ table: 'item', moment: 'before-save', watch: ['name'], each(row) { if (row.id % 2) row.refuse('name', 'odd'); else row.now.label = 'ok' } }`,
          ),
        },
      },
      { item: items(5) },
    )
    const done = run(world, wish({ hooks: ['even'] }), 2)
    expect(done.figures).toMatchObject({ changed: 2, left: 3 })
    expect(leftIn(world.store, done.id, 10).map(({ id, field, message }) => [id, field, message])).toEqual([
      [1, 'name', 'even: odd'],
      [3, 'name', 'even: odd'],
      [5, 'name', 'even: odd'],
    ])
  })
})

describe('values', () => {
  test('are set where the conditions hold still; hooks run as in any save', () => {
    const world = worldOf(
      {
        tables,
        hooks: {
          label: hook(`{ table: 'item', moment: 'before-save', watch: ['kind'], each(row) { row.now.label = row.now.kind } }`),
        },
      },
      { item: items(4, (id) => ({ size: id })) },
    )
    const { store, environment } = world
    const what = wish({ where: { size: { gte: 2 } }, set: { kind: 'old' } })
    const id = beginBackfill(store, checkWish(environment, what, 'owner'), what, 'owner')
    stepBackfill(store, () => environment, id, 1)
    world.put('item', { id: 3, size: 0 })
    let last: BackfillInfo
    do last = stepBackfill(store, () => environment, id, 1).backfill
    while (last.state === 'running')
    expect(world.all('item').map(({ kind, label }) => [kind, label])).toEqual([
      [null, null],
      ['old', 'old'],
      [null, null],
      ['old', 'old'],
    ])
    expect(last.figures).toMatchObject({ changed: 2, passed: 1, fields: { kind: 2, label: 2 } })
    expect(readHistory(store, 'item', 2)[0]!.changes.map(({ field, by }) => [field, by])).toEqual([
      ['kind', 'backfill'],
      ['label', 'p/label@1.2.3'],
    ])
  })
})

test('a plan tells what would be done, and keeps nothing of it', () => {
  const world = worldOf(
    {
      tables,
      project: { sequences: { s: { prefix: 'A-', digits: 3, start: 5 } } },
      hooks: {
        odd: hook(
          `{ table: 'item', moment: 'before-save', watch: ['number'], each(row) { if (row.id === 2) row.refuse('number', 'no') } }`,
        ),
      },
    },
    { item: items(5) },
  )
  const before = [world.all('item'), world.store.rows('SELECT * FROM ph_sequence'), world.all('ph_save'), world.all('ph_history')]
  const what = wish({ number: { field: 'number', series: 's' } })
  const plan = planBackfill(world.environment, what, 'owner', null, () => {})
  expect(plan).toMatchObject({
    total: 5,
    tried: 5,
    figures: { changed: 4, left: 1, fields: { number: 4 }, numbers: { s: { first: 'A-005', last: 'A-008' } } },
    left: [{ table: 'item', id: 2, field: 'number', message: 'odd: no' }],
  })
  expect(plan.samples[0]).toMatchObject({ id: 1, changes: [{ field: 'number', from: null, to: 'A-005', by: 'backfill' }] })
  expect(planBackfill(world.environment, what, 'owner', 1, () => {})).toMatchObject({
    total: 5,
    tried: 1,
    figures: { changed: 1 },
  })
  expect([
    world.all('item'),
    world.store.rows('SELECT * FROM ph_sequence'),
    world.all('ph_save'),
    world.all('ph_history'),
  ]).toEqual(before)
})

test.each<[Partial<BackfillWish>, RegExp]>([
  [{}, /none of them/],
  [{ hooks: ['label'], set: { kind: 'x' } }, /hooks and set/],
  [{ hooks: ['lable'] }, /no hook|has a hook lable/],
  [{ hooks: ['of-box'] }, /runs for box/],
  [{ hooks: ['late'] }, /before-commit/],
  [{ hooks: ['gone'] }, /delete only/],
  [{ hooks: ['asleep'] }, /switched off/],
  [{ set: { Kind: 'x' } }, /no field Kind/],
  [{ set: { size: 'x' } }, /size takes an integer/],
  [{ set: { id: 3 } }, /id of a record stays/],
  [{ number: { field: 'size', series: 's' } }, /a series gives text/],
  [{ number: { field: 'number', series: 't' } }, /no sequence t/],
  [{ set: { kind: 'x' }, where: { nam: 'x' } }, /no field nam/],
  [{ set: { kind: 'x' }, order: ['nam'] }, /no field nam/],
  [{ table: 'itm', set: { kind: 'x' } }, /no table itm/],
])('what cannot be done is shown before a record is touched: %j', (part, message) => {
  const each = (table: string, more: string) => hook(`{ table: '${table}', ${more}, each() {} }`)
  const { environment } = new World({
    tables,
    project: { sequences: { s: { prefix: '', digits: 1, start: 1 } } },
    hooks: {
      label: each('item', `moment: 'before-save'`),
      'of-box': each('box', `moment: 'before-save'`),
      late: each('item', `moment: 'before-commit'`),
      gone: each('item', `moment: 'after-save', on: ['delete']`),
      asleep: each('item', `moment: 'before-save'`),
    },
    states: { asleep: { off: true } },
  })
  expect(() => checkWish(environment, wish(part), 'owner')).toThrow(message)
})

test('a sample of a plan says who set each field: the backfill, or a hook that was woken by it', () => {
  const world = worldOf(
    {
      tables,
      hooks: {
        label: hook(
          `{ table: 'item', moment: 'before-save', watch: ['name'], each(row) { row.now.label = 'l ' + row.now.name } }`,
        ),
      },
    },
    { item: items(2) },
  )
  const plan = planBackfill(world.environment, wish({ set: { name: 'new' } }), 'owner', null, () => {})
  expect(plan.samples[0]!.changes).toEqual([
    { field: 'name', from: 'n1', to: 'new', by: 'backfill' },
    { field: 'label', from: null, to: 'l new', by: 'label' },
  ])
})
