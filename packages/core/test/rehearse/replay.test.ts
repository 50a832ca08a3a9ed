import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { ReplayedSave } from '@patient-hook/contract'
import { makeRuntime } from '../../src/engine/runtime.js'
import { asOf, replay } from '../../src/rehearse/replay/replay.js'
import { lastSaves } from '../../src/save/given.js'
import { trySave } from '../../src/save/save.js'
import type { InputRow, SaveOptions } from '../../src/save/types.js'
import { filesOf, flag, hook, integer, link, number, text, World, type Source } from '../world.js'

/** Kept saves, run again on the records as they were before them. */

const NUMBER = hook(
  `{ table: 'parcel', moment: 'before-save', on: ['create'], each(row, _, { next }) { row.now.number = next('parcel') } }`,
)
const MASS = (factor: number) =>
  hook(
    `{ table: 'parcel', moment: 'before-save', watch: ['grams'], each(row) { row.now.kilos = (row.now.grams ?? 0) * ${factor} } }`,
  )
const COUNT = hook(`{ table: 'parcel', moment: 'after-save', on: ['create', 'update', 'delete'],
  finish({ rows, store, update }) {
    const ids = rows.flatMap((row) => [row.now?.van, row.was?.van])
    for (const [id, { count }] of store.rollup('parcel', 'van', ids, { count: true })) update('van', id, { parcels: count })
  } }`)
const LIMIT = hook(
  `{ table: 'van', moment: 'before-commit', each(row) { if ((row.now.parcels ?? 0) > 3) row.refuse('parcels', 'three at most') } }`,
)
const TOLD = (word: string) =>
  hook(`{ table: 'parcel', moment: 'after-save', on: ['create'],
  each(row, _, { send, create }) { send('desk', { word: '${word}', id: row.id }); create('slip', { parcel: row.id }) } }`)

const source = (hooks: Record<string, string>): Source => ({
  project: { sequences: { parcel: { prefix: 'P', digits: 3, start: 1 } }, users: [{ name: 'ada' }, { name: 'bram' }] },
  tables: {
    van: { fields: { name: { ...text, 'x-unique': true }, parcels: integer } },
    parcel: { fields: { van: link('van', 'cascade'), grams: integer, kilos: number, number: text, fragile: flag } },
    slip: { fields: { parcel: link('parcel', 'cascade') } },
  },
  hooks,
})
const HOOKS = { number: NUMBER, mass: MASS(0.001), count: COUNT, limit: LIMIT, told: TOLD('new') }

class Post extends World {
  constructor(hooks: Record<string, string> = HOOKS) {
    super(source(hooks))
  }

  keep(rows: InputRow[], options: SaveOptions = {}) {
    return this.try(rows, { keepGiven: true, user: 'ada', ...options })
  }

  /** Everything that is in the database. */
  contents(): string {
    const tables = this.store.values(`SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name`) as string[]
    return JSON.stringify(tables.map((table) => [table, this.store.rows(`SELECT * FROM "${table}" ORDER BY 1`)]))
  }

  replay(hooks: Record<string, string> = HOOKS, last = 1000, after: number | null = null): ReplayedSave[] {
    const { project, program } = makeRuntime(filesOf(source(hooks)))
    const results: ReplayedSave[] = []
    const before = this.contents()
    replay({ project, program, store: this.store }, lastSaves(this.store, last), after, {
      begin: () => {},
      result: (result) => void results.push(result),
    })
    expect(this.contents()).toBe(before)
    return results
  }
}

const van = (name: string): InputRow => ({ table: 'van', values: { name } })
const parcel = (values: InputRow['values'], id?: number): InputRow => ({ table: 'parcel', values, ...(id ? { id } : {}) })

describe('the same code again', () => {
  const anyVan = fc.constantFrom(1, 2, 3, null)
  const anyRow: fc.Arbitrary<InputRow> = fc.oneof(
    fc.record({ table: fc.constant('van'), values: fc.record({ name: fc.constantFrom('a', 'b', 'c', 'd') }) }),
    fc.record({
      table: fc.constant('parcel'),
      values: fc.record({ van: anyVan, grams: fc.integer({ min: 0, max: 9 }), fragile: fc.boolean() }),
    }),
    fc.record({ table: fc.constant('parcel'), id: fc.integer({ min: 1, max: 6 }), values: fc.record({ van: anyVan }) }),
    fc.record({ table: fc.constant('parcel'), copyOf: fc.integer({ min: 1, max: 6 }), values: fc.constant({}) }),
    fc.record({
      table: fc.constantFrom('parcel', 'van'),
      id: fc.integer({ min: 1, max: 6 }),
      values: fc.constant({}),
      remove: fc.constant(true),
    }),
    fc.record({
      table: fc.constant('van'),
      id: fc.integer({ min: 1, max: 3 }),
      values: fc.record({ name: fc.constantFrom('a', 'b', 'c', 'e') }),
    }),
  )
  test('whatever was saved comes out the same, and nothing is changed by it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.array(anyRow, { minLength: 1, maxLength: 4 }), fc.boolean()), { maxLength: 12 }),
        (saves) => {
          const post = new Post()
          post.keep([van('x'), van('y')])
          for (const [rows, partial] of saves) post.keep(rows, { partial })
          const results = post.replay()
          expect(results.length).toBe(lastSaves(post.store, 1000).length)
          expect(results.filter((each) => each.outcome !== 'same')).toEqual([])
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('other code', () => {
  test('what it would set otherwise, by field and hook; a later save starts from what was kept', () => {
    const post = new Post()
    post.keep([van('x')])
    post.keep([parcel({ van: 1, grams: 500 })])
    post.keep([parcel({ fragile: true }, 1)])
    const results = post.replay({ ...HOOKS, mass: MASS(1) })
    expect(results.map(({ outcome }) => outcome)).toEqual(['same', 'different', 'same'])
    expect(results[1]!.differences).toEqual([
      { kind: 'value', table: 'parcel', id: 1, field: 'kilos', then: 0.5, now: 500, byThen: 'mass', byNow: 'mass' },
    ])
    expect(results[1]!.rows).toEqual([parcel({ van: 1, grams: 500 })])
  })

  test('a hook that is gone: its values, records and messages', () => {
    const post = new Post()
    post.keep([van('x')])
    post.keep([parcel({ van: 1, grams: 500 })])
    const [, last] = post.replay({ mass: MASS(0.001), number: NUMBER })
    expect(last!.differences).toEqual([
      { kind: 'record', table: 'slip', id: 1, then: 'created', now: 'untouched', by: ['told'] },
      { kind: 'value', table: 'van', id: 1, field: 'parcels', then: 1, now: null, byThen: 'count', byNow: null },
      { kind: 'message', channel: 'desk', hook: 'told', then: { word: 'new', id: 1 }, now: null },
    ])
  })

  test('a message with another text', () => {
    const post = new Post()
    post.keep([parcel({ grams: 1 })])
    const [only] = post.replay({ ...HOOKS, told: TOLD('fresh') })
    expect(only!.differences).toEqual([
      { kind: 'message', channel: 'desk', hook: 'told', then: { word: 'new', id: 1 }, now: { word: 'fresh', id: 1 } },
    ])
  })

  test('a refusal, and a hook that throws', () => {
    const post = new Post()
    post.keep([parcel({ grams: 5 })])
    const refuse = hook(
      `{ table: 'parcel', moment: 'before-save', each(row) { if (row.now.grams > 4) row.refuse('grams', 'too heavy') } }`,
    )
    expect(post.replay({ ...HOOKS, refuse })[0]).toMatchObject({
      outcome: 'refused',
      error: { code: 'hook/refused', hook: 'refuse', message: 'too heavy' },
    })
    const broken = hook(`{ table: 'parcel', moment: 'before-save', each(row) { row.now.number.length } }`)
    const [failed] = post.replay({ ...HOOKS, 'a-broken': broken })
    expect(failed).toMatchObject({ outcome: 'failed', error: { hook: 'a-broken' } })
  })
})

describe('what cannot be run again', () => {
  test('a save whose input was not kept, or was too large to keep, says so', () => {
    const post = new Post()
    post.run([van('x')], { user: 'ada' })
    post.keep(Array.from({ length: 501 }, (_, index) => parcel({ grams: index })))
    const results = post.replay()
    expect(results.map(({ outcome, error }) => [outcome, error?.code])).toEqual([
      ['not-run', 'rehearse/not-given'],
      ['not-run', 'rehearse/not-given'],
    ])
  })

  test('records that were changed by something else than a save hide what was before', () => {
    const post = new Post()
    post.keep([van('x')])
    post.keep([parcel({ van: 1, grams: 1 })])
    post.keep([van('y')])
    post.store.run('UPDATE parcel SET grams = 7')
    const results = post.replay()
    expect(results.map(({ outcome }) => outcome)).toEqual(['not-run', 'not-run', 'same'])
    expect(results[0]!.error).toMatchObject({ code: 'rehearse/cannot-rewind', table: 'parcel', id: 1 })
    expect(results[0]!.error!.message).toMatch(/save 2 .*grams is 7, not 1/)
  })

  test('what a save was given is forgotten after a thousand more', () => {
    const post = new Post()
    for (let at = 0; at <= 1000; at++) post.keep([van(`v${at}`)])
    expect(post.store.one('SELECT count(*) FROM ph_save WHERE given IS NOT NULL')).toBe(1000)
    expect(post.store.one('SELECT given FROM ph_save WHERE id = 1')).toBeNull()
  })

  test('a rehearsal keeps nothing of what it was given', () => {
    const post = new Post()
    const before = post.contents()
    post.keep([van('x')], { rehearse: true })
    expect(post.contents()).toBe(before)
  })
})

describe('the records of then', () => {
  test('reads and rehearsals see them, with the numbers of then', () => {
    const post = new Post()
    post.keep([van('x')])
    post.keep([parcel({ van: 1, grams: 1 })])
    post.keep([parcel({ van: 1, grams: 2 }), parcel({ grams: 9 }, 1)])
    const before = post.contents()
    const seen = asOf(post.environment, 3, (given) => {
      const again = trySave(post.environment, given!.rows, { rehearse: true, record: true, returnRecords: true })
      return { grams: post.store.values('SELECT grams FROM parcel'), again: again.records.map((record) => record?.['number']) }
    })
    expect(seen).toEqual({ grams: [1], again: ['P002', 'P001'] })
    expect(post.contents()).toBe(before)
    expect(() => asOf(post.environment, 99, () => {})).toThrow(/no save 99/)
  })
})
