import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { hook, integer, link, text, World } from '../world.js'

/** Which ripples wake a hook, and what is reported about those that never end. */

const tables = {
  collection: { fields: { label: text } },
  lot: { fields: { collection: link('collection'), notes: text, seen: integer, bay: text } },
}

/** Notes go to the other lots of the collection. */
const toSiblings = (ripples: string) =>
  hook(`{ table: 'lot', moment: 'after-save', on: ['update'], watch: ['notes'], ${ripples}
    load: ({ rows, store }) => store.children('lot', 'collection', rows.map((row) => row.now.collection), []),
    each(row, lots, { update }) {
      for (const lot of lots.get(row.now.collection) ?? []) if (lot.id !== row.id) update('lot', lot.id, { notes: row.now.notes })
    } }`)

const COUNT = hook(
  `{ table: 'lot', moment: 'before-save', watch: ['notes'], each(row) { row.now.seen = (row.now.seen ?? 0) + 1 } }`,
)

function vault(hooks: Record<string, string>, lots: number): World {
  const world = new World({ tables, hooks })
  world.put('collection', { label: 'c' })
  world.put('lot', ...Array.from({ length: lots }, () => ({ collection: 1 })))
  return world
}

describe('rows that wake each other', () => {
  const two = [
    { table: 'lot', values: { id: 1, notes: 'dry' } },
    { table: 'lot', values: { id: 2, notes: 'cold' } },
  ]

  test('without end: the error names hook, records and field, once', () => {
    const { error } = vault({ push: toSiblings('') }, 2).try(two)
    expect(error).toMatchObject({ code: 'budget/spent' })
    expect(error!.message).toBe(
      'the save exceeded its budget of 8 ripple depth (9 spent); the ripples: push (9 times); lot 1, lot 2 keep changing in notes',
    )
  })

  test('a chain of several hooks is reported once round', () => {
    const pass = (name: string, from: string, to: string) =>
      [
        name,
        hook(
          `{ table: 'lot', moment: 'after-save', watch: ['${from}'], each(row, _, { update }) { update('lot', row.id, { ${to}: (row.now.${from} ?? '') + '!' }) } }`,
        ),
      ] as const
    const world = vault(Object.fromEntries([pass('there', 'notes', 'bay'), pass('back', 'bay', 'notes')]), 1)
    const { error } = world.try([{ table: 'lot', values: { id: 1, notes: 'x' } }])
    expect(error!.message).toMatch(/the ripples: there → back \(4 times\); lot 1 keeps changing in (notes, bay|bay, notes)$/)
  })

  test("ripples: 'others' does not hear what it caused itself", () => {
    const world = vault({ push: toSiblings("ripples: 'others',") }, 2)
    const { verdicts } = world.run(two)
    expect(world.all('lot').map((lot) => lot['notes'])).toEqual(['cold', 'dry'])
    expect(verdicts.filter((each) => each.hook === 'push' && each.depth === 1).map((each) => each.reason)).toEqual([
      "ripples: 'others', and the hook caused this ripple itself",
      "ripples: 'others', and the hook caused this ripple itself",
    ])
  })

  test('nor what it caused through another hook', () => {
    const relay = hook(
      `{ table: 'collection', moment: 'after-save', watch: ['label'], finish({ rows, store, update }) {
        for (const [, lots] of store.children('lot', 'collection', rows.map((row) => row.id), []))
          for (const lot of lots) update('lot', lot.id, { notes: 'from ' + rows[0].now.label }) } }`,
    )
    const up = (ripples: string) =>
      hook(
        `{ table: 'lot', moment: 'after-save', watch: ['notes'], ${ripples} each(row, _, { update }) { update('collection', row.now.collection, { label: row.now.notes + '+' }) } }`,
      )
    const typed = [{ table: 'lot', values: { id: 1, notes: 'x' } }]
    expect(vault({ relay, up: up('') }, 1).try(typed).error).toMatchObject({ code: 'budget/spent' })
    const world = vault({ relay, up: up("ripples: 'others',") }, 1)
    expect(world.run(typed).ran).toEqual({ up: 1, relay: 1 })
    expect(world.all('lot')[0]).toMatchObject({ notes: 'from x+' })
    // What it did not cause wakes it: here the header was typed.
    expect(world.run([{ table: 'collection', values: { id: 1, label: 'y' } }]).ran).toMatchObject({ up: 1 })
  })

  test('a before-save hook that set what led to the ripple sleeps for it too', () => {
    const echo = hook(
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { update('lot', row.id, { notes: 'in ' + row.now.bay }) } }`,
    )
    const bay = hook(
      `{ table: 'lot', moment: 'before-save', watch: ['notes'], ripples: 'others', each(row) { row.now.bay = row.now.notes + ' bay' } }`,
    )
    const world = vault({ echo, bay }, 1)
    expect(world.run([{ table: 'lot', values: { id: 1, notes: 'x' } }]).ran).toEqual({ bay: 1, echo: 1 })
    expect(world.all('lot')[0]).toMatchObject({ bay: 'x bay', notes: 'in x bay' })
  })

  test("ripples: 'none' hears typed rows only, at both moments", () => {
    const none = COUNT.replace('watch:', "ripples: 'none', watch:")
    const world = vault({ push: toSiblings("ripples: 'none',"), none }, 3)
    world.run([{ table: 'lot', values: { id: 1, notes: 'dry' } }])
    expect(world.all('lot').map((lot) => [lot['notes'], lot['seen']])).toEqual([
      ['dry', 1],
      ['dry', null],
      ['dry', null],
    ])
  })

  test('a cascade is a ripple', () => {
    const gone = hook(
      `{ table: 'lot', moment: 'after-save', on: ['delete'], ripples: 'none', each(row, _, { log }) { log(row.id) } }`,
    )
    const world = new World({
      tables: { ...tables, lot: { fields: { ...tables.lot.fields, collection: link('collection', 'cascade') } } },
      hooks: { gone },
    })
    world.put('collection', {})
    world.put('lot', { collection: 1 }, { collection: 1 })
    expect(world.run([{ table: 'lot', values: { id: 1 }, remove: true }]).ran).toEqual({ gone: 1 })
    expect(world.run([{ table: 'collection', values: { id: 1 }, remove: true }]).ran).toEqual({})
    expect(world.all('lot')).toEqual([])
  })

  test('a roll-up in finish is asleep only for what it caused', () => {
    const total = hook(
      `{ table: 'collection', moment: 'after-save', watch: ['label'], ripples: 'others', finish({ rows, store, update }) {
        for (const row of rows) update('collection', row.id === 1 ? 2 : 1, { label: row.now.label + row.id }) } }`,
    )
    const world = new World({ tables, hooks: { total } })
    world.put('collection', {}, {}, {})
    const outcome = world.run(
      [
        { table: 'collection', values: { id: 1, label: 'a' } },
        { table: 'collection', values: { id: 3, label: 'c' } },
      ].slice(0, 1),
    )
    expect(outcome.ran).toEqual({ total: 1 })
    expect(world.all('collection').map((each) => each['label'])).toEqual(['a', 'a1', null])
  })

  test.each([
    ["ripples: 'some',", 'ripples is one of all, others, none, but is text "some"'],
    ['ripples: true,', 'ripples is one of all, others, none, but is true'],
  ])('%s is an error of the definition', (ripples, message) => {
    expect(() => vault({ push: toSiblings(ripples) }, 1)).toThrow(message)
  })

  test('a before-commit hook has none', () => {
    const checked = hook(`{ table: 'lot', moment: 'before-commit', ripples: 'none', each() {} }`)
    expect(() => vault({ checked }, 1)).toThrow('a before-commit hook runs once for each touched record')
  })

  test('for any batch of siblings: with others and the last one speaking for all, the save ends and all agree', () => {
    const last = hook(`{ table: 'lot', moment: 'after-save', watch: ['notes'], ripples: 'others',
      finish({ rows, store, update }) {
        const of = new Map(rows.map((row) => [row.now.collection, row]))
        const lots = store.children('lot', 'collection', of.keys(), [])
        for (const [id, row] of of) for (const lot of lots.get(id) ?? []) if (lot.id !== row.id) update('lot', lot.id, { notes: row.now.notes })
      } }`)
    const world = vault({ last }, 5)
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.record({ id: fc.integer({ min: 1, max: 5 }), notes: fc.string({ maxLength: 3 }) }), {
          selector: (lot) => lot.id,
          minLength: 1,
        }),
        (lots) => {
          world.run(lots.map((values) => ({ table: 'lot', values })))
          const notes = world.all('lot').map((lot) => lot['notes'])
          expect(new Set(notes).size).toBe(1)
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('a typed value that does not stand is reported', () => {
  test('overwritten by a ripple', () => {
    const { rows } = vault({ push: toSiblings("ripples: 'others',") }, 2).run([
      { table: 'lot', values: { id: 1, notes: 'dry' } },
      { table: 'lot', values: { id: 2, notes: 'cold' } },
    ])
    expect(rows.filter((row) => row.depth === 1).map((row) => row.changes)).toEqual([
      [{ field: 'notes', from: 'cold', to: 'dry', by: 'push', kind: 'ripple', overwrites: 'cold' }],
      [{ field: 'notes', from: 'dry', to: 'cold', by: 'push', kind: 'ripple', overwrites: 'dry' }],
    ])
  })

  test('overwritten by a hook, also where the record keeps what it had', () => {
    const fix = hook(`{ table: 'lot', moment: 'before-save', on: ['update'], each(row) { row.now.bay = row.was.bay } }`)
    const world = vault({ fix }, 1)
    expect(world.run([{ table: 'lot', values: { id: 1, bay: 'B', notes: 'n' } }]).rows[0]!.changes).toEqual([
      { field: 'notes', from: null, to: 'n', by: 'typed', kind: 'typed' },
      { field: 'bay', from: null, to: null, by: 'fix', kind: 'hook', overwrites: 'B' },
    ])
  })
})
