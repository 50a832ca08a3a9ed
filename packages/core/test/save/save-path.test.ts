import { describe, expect, test } from 'vitest'
import { hook, integer, link, text, World } from '../world.js'
import { tables } from './parent-child.js'

/** What one save does to typed rows, station by station (docs/hooks.md); effects, deletes and documents have their own files. */

describe('typed values', () => {
  const world = new World({ tables })
  test.each([
    [{ nme: 'x' }, 'save/unknown-field', 'nme', /did you mean name/],
    [{ name: 12 }, 'save/wrong-type', 'name', /takes text, but got the number 12/],
    [{ name: 'a', size: 'xl' }, 'save/wrong-type', 'size', /one of s, m, l/],
    [{ name: 'a', total: 'many' }, 'save/wrong-type', 'total', /a number, but got text "many"/],
  ])('%o is refused', (values, code, field, message) => {
    const { error } = world.try([{ table: 'parent', values: values as never }])
    expect(error).toMatchObject({ code, table: 'parent', field, row: 1 })
    expect(error!.message).toMatch(message)
  })

  test('a table that is not there is named with a hint', () => {
    expect(world.try([{ table: 'parnt', values: {} }]).error).toMatchObject({
      code: 'save/unknown-table',
      message: expect.stringContaining('parent') as string,
    })
  })

  test('a record that is not there', () => {
    expect(world.try([{ table: 'parent', values: { id: 99, name: 'x' } }]).error).toMatchObject({
      code: 'save/not-found',
      row: 1,
    })
  })

  test('one record twice in a save', () => {
    const fresh = new World({ tables })
    fresh.put('parent', { name: 'a' })
    const { error } = fresh.try([
      { table: 'parent', values: { id: 1, name: 'b' } },
      { table: 'parent', values: { id: 1, name: 'c' } },
    ])
    expect(error).toMatchObject({ code: 'save/duplicate-row', row: 2 })
    expect(fresh.all('parent')[0]!['name']).toBe('a')
  })
})

describe('checks on the final values', () => {
  test('required, bounds, unique and links are all listed', () => {
    const world = new World({ tables })
    world.put('child', { code: 'A' })
    const { error } = world.try([
      { table: 'parent', values: { total: 1 } },
      { table: 'child', values: { qty: -1 } },
      { table: 'child', values: { code: 'A' } },
      { table: 'child', values: { parent: 77 } },
      { table: 'child', values: { code: 'B' } },
      { table: 'child', values: { code: 'B' } },
    ])
    expect(error!.refusals!.map((each) => [each.code, each.row, each.field]).sort()).toEqual([
      ['check/bounds', 2, 'qty'],
      ['check/link', 4, 'parent'],
      ['check/required', 1, 'name'],
      ['check/unique', 3, 'code'],
      ['check/unique', 6, 'code'],
    ])
    expect(world.all('child')).toHaveLength(1)
  })

  test('a hook may fill what is required', () => {
    const world = new World({
      tables,
      hooks: { fill: hook(`{ table: 'parent', moment: 'before-save', each(row) { row.now.name ??= 'filled' } }`) },
    })
    expect(world.put('parent', {})[0]).toMatchObject({ name: 'filled' })
  })

  test('two records may trade unique values in one save', () => {
    const world = new World({ tables })
    world.put('child', { code: 'A' }, { code: 'B' })
    world.put('child', { id: 1, code: 'B' }, { id: 2, code: 'A' })
    expect(world.all('child').map((each) => each['code'])).toEqual(['B', 'A'])
  })

  test('fields that are unique together', () => {
    const world = new World({ tables: { t: { fields: { a: text, b: integer }, unique: [['a', 'b']] } } })
    world.put('t', { a: 'x', b: 1 }, { a: 'x', b: 2 }, { a: 'x' }, { a: 'x' })
    expect(world.try([{ table: 't', values: { a: 'x', b: 2 } }]).error).toMatchObject({ code: 'check/unique' })
  })
})

describe('before-save hooks', () => {
  test('run in after order, then by name, each seeing what earlier ones set', () => {
    const step = (letter: string, after = '') =>
      hook(`{ table: 'child', moment: 'before-save', ${after} each(row) { row.now.note = (row.now.note ?? '') + '${letter}' } }`)
    const world = new World({ tables, hooks: { a: step('a', "after: ['c'],"), b: step('b'), c: step('c') } })
    expect(world.put('child', {})[0]!['note']).toBe('bca')
  })

  test('watch compares was with now at that point', () => {
    const world = new World({
      tables,
      hooks: {
        a: hook(
          `{ table: 'child', moment: 'before-save', on: ['update'], watch: ['qty'], each(row) { row.now.note = 'changed' } }`,
        ),
        b: hook(`{ table: 'child', moment: 'before-save', watch: ['note'], each(row) { row.now.ok = true } }`),
      },
    })
    world.put('child', { qty: 1 })
    expect(world.all('child')[0]).toMatchObject({ note: null, ok: null })
    world.put('child', { id: 1, qty: 2 })
    expect(world.all('child')[0]).toMatchObject({ note: 'changed', ok: 1 })
  })

  test('say for every hook and row whether it ran, and why not', () => {
    const world = new World({
      tables,
      project: { users: ['ada', 'bo'] },
      states: { pilot: { pilot: ['bo'] }, off: { off: true } },
      hooks: {
        guard: hook(`{ table: 'child', moment: 'before-save', only: row => row.now.qty === 1, each() {} }`),
        off: hook(`{ table: 'child', moment: 'before-save', each() {} }`),
        pilot: hook(`{ table: 'child', moment: 'before-save', each() {} }`),
        update: hook(`{ table: 'child', moment: 'before-save', on: ['update'], each() {} }`),
        watch: hook(`{ table: 'child', moment: 'before-save', watch: ['note'], each() {} }`),
      },
    })
    const { verdicts } = world.run([{ table: 'child', values: { qty: 2 } }], { user: 'ada' })
    expect(Object.fromEntries(verdicts.map((each) => [each.hook, each.reason]))).toEqual({
      guard: 'the guard returned false: row.now.qty === 1',
      off: 'switched off',
      pilot: 'pilot for bo; the user is ada',
      update: 'runs on update; this is a create',
      watch: 'no value in note',
    })
    expect(world.run([{ table: 'child', values: { qty: 1 } }], { user: 'bo' }).ran).toEqual({ guard: 1, pilot: 1 })
  })

  test('load is called once for a batch, whatever its size', () => {
    const world = new World({
      tables,
      project: { batchSize: 500 },
      hooks: {
        look: hook(
          `{ table: 'child', moment: 'before-save', load: ({ rows, store }) => store.byId('parent', rows.map(r => r.now.parent), ['name']), each(row, parents) { row.now.note = parents.get(row.now.parent)?.name ?? null } }`,
        ),
      },
    })
    world.put('parent', { name: 'p1' }, { name: 'p2' })
    const outcome = world.run(
      Array.from({ length: 1200 }, (_, i) => ({ table: 'child', values: { parent: i % 3 === 0 ? null : (i % 2) + 1 } })),
    )
    expect(outcome.spent.queries).toBe(3)
    expect(outcome.records[1]).toMatchObject({ note: 'p2' })
    expect(outcome.records[0]).toMatchObject({ note: null })
  })

  test('siblings created together are seen in rows, not in the store', () => {
    const world = new World({
      tables,
      hooks: {
        number: hook(`{ table: 'child', moment: 'before-save', on: ['create'],
          load({ rows, store }) { const there = store.children('child', 'parent', rows.map(r => r.now.parent), []); return { there, rows } },
          each(row, { there, rows }) {
            const before = rows.filter(r => r.now.parent === row.now.parent && r.id < row.id).length
            row.now.qty = (there.get(row.now.parent)?.length ?? 0) + before + 1
          } }`),
      },
    })
    world.put('parent', { name: 'p' })
    world.put('child', { parent: 1 }, { parent: 1 })
    world.put('child', { parent: 1 }, { parent: 1 })
    expect(world.all('child').map((each) => each['qty'])).toEqual([1, 2, 3, 4])
  })

  test('became, changed, changes and copiedFrom', () => {
    const world = new World({
      tables,
      hooks: {
        h: hook(`{ table: 'child', moment: 'before-save', each(row) {
        row.now.note = [row.became(c => c.ok === true), row.changed('qty'), row.changes.map(c => c.field + ':' + c.from + '>' + c.to).join(','), row.copiedFrom].join('|') } }`),
      },
    })
    world.put('child', { qty: 1, code: 'A' })
    expect(world.put('child', { id: 1, ok: true, qty: 2 })[0]!['note']).toMatch(/^true\|true\|qty:1>2,ok:null>true\|$/)
    expect(world.put('child', { id: 1, ok: true })[0]!['note']).toBe('false|false||')
    const copy = world.run([{ table: 'child', copyOf: 1, values: { qty: 9 } }]).records[0]!
    expect(copy).toMatchObject({ id: 2, qty: 9, ok: true, code: null })
    expect(copy['note']).toMatch(/\|1$/)
  })

  test('rows spread and list their fields like plain records', () => {
    const world = new World({
      tables,
      hooks: {
        h: hook(
          `{ table: 'parent', moment: 'before-save', each(row) { row.now.name = Object.keys(row.now).join() + JSON.stringify({ ...row.now }) } }`,
        ),
      },
    })
    expect(world.put('parent', { name: 'x', total: 2 })[0]!['name']).toBe(
      'id,name,total,size{"id":1,"name":"x","total":2,"size":null}',
    )
  })
})

describe('all or nothing, or the good rows', () => {
  const refuser = {
    no: hook(
      `{ table: 'child', moment: 'before-save', each(row, _, { next }) { row.now.code = next('n'); if (row.now.qty === 3) row.refuse('qty', 'three is refused') } }`,
    ),
  }
  const source = { tables, hooks: refuser, project: { sequences: { n: { prefix: 'N', digits: 3, start: 1 } }, batchSize: 4 } }
  const rows = Array.from({ length: 10 }, (_, i) => ({ table: 'child', values: { qty: i % 5 } }))

  test('by default nothing is kept and every refusal is listed', () => {
    const world = new World(source)
    const { error } = world.try(rows)
    expect(error).toMatchObject({
      code: 'hook/refused',
      hook: 'no',
      row: 4,
      field: 'qty',
      message: 'three is refused',
      file: 'plugins/p/hooks/no.ts',
      line: 2,
    })
    expect(error!.refusals!.map((each) => each.row)).toEqual([4, 9])
    expect(world.all('child')).toHaveLength(0)
    expect(world.all('ph_save')).toHaveLength(0)
  })

  test('with partial the good rows are kept, and numbers have no gap', () => {
    const world = new World(source)
    const outcome = world.run(rows, { partial: true })
    expect(outcome.refusals.map((each) => each.row)).toEqual([4, 9])
    expect(outcome.records.map((each) => each === null)).toEqual(rows.map((_, i) => i === 3 || i === 8))
    expect(world.all('child').map((each) => each['code'])).toEqual([
      'N001',
      'N002',
      'N003',
      'N004',
      'N005',
      'N006',
      'N007',
      'N008',
    ])
  })

  test('a rollback gives numbers back', () => {
    const world = new World(source)
    world.try(rows)
    expect(world.put('child', { qty: 1 })[0]!['code']).toBe('N001')
  })
})

test('functions of a hook have no `this`: what they are called on is the engine’s', () => {
  const world = new World({
    tables: {
      item: { fields: { name: text, qty: integer } },
      part: { fields: { item: link('item'), name: text, note: text } },
    },
    hooks: {
      // Each says what it was called on, or fails.
      before: hook(`{ table: 'item', moment: 'before-save',
        only(this: unknown) { return this === undefined },
        load(this: unknown) { return typeof this },
        each(this: unknown, row, loaded) { row.now.name = loaded + ' ' + typeof this } }`),
      after: hook(`{ table: 'item', moment: 'after-save',
        each(this: unknown, row, _, { update }) { update('part', { item: row.id }, { name: typeof this }) },
        finish(this: unknown, { rows, create }) { create('part', { item: rows[0].id, name: typeof this }) } }`),
      // Asked whether a set can be written without looking at each record.
      asked: hook(`{ table: 'part', moment: 'before-save', watch: ['name'],
        only(this: unknown) { return this !== undefined }, each(row) { row.now.note = 'called on something' } }`),
    },
  })
  const { id } = world.put('item', { qty: 1 })[0]!
  expect(world.all('item')[0]).toMatchObject({ name: 'undefined undefined' })
  world.run([{ table: 'item', values: { id: id as number, qty: 2 } }], { record: false })
  expect(world.all('part')).toMatchObject([
    { name: 'undefined', note: null },
    { name: 'undefined', note: null },
  ])
  // The value is refused, and the hook called once more to find the line.
  const wrong = new World({
    tables: { item: { fields: { name: text, qty: integer } } },
    hooks: {
      h: hook(
        `{ table: 'item', moment: 'before-save', each(this: unknown, row) { row.now.qty = (this === undefined ? 'x' : 1) as never } }`,
      ),
    },
  })
  expect(wrong.try([{ table: 'item', values: { qty: 1 } }]).error).toMatchObject({ code: 'hook/wrong-type', field: 'qty' })
})
