import { describe, expect, test } from 'vitest'
import type { BulkPropertyName } from '@patient-hook/contract'
import { brokenBy, type Example } from './world.js'

/** Hooks with a planted bulk fault, each of which must be found; the faults are those that people make (common practice of the trade). */

const faults: (Example & { breaks: BulkPropertyName })[] = [
  {
    name: 'cached-from-the-first-row',
    breaks: 'batch-equals-singles',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['van'],
      load({ rows, store }) { return store.byId('van', [rows[0].now.van], ['note']).get(rows[0].now.van) ?? null },
      each(row, van) { row.now.note = van?.note ?? null } }`,
  },
  {
    name: 'state-between-rows',
    breaks: 'batch-equals-singles',
    head: 'let last = null',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'],
      each(row) { row.now.label = last; last = row.now.note } }`,
  },
  {
    name: 'total-kept-in-the-module',
    breaks: 'batch-equals-singles',
    head: 'const seen = []',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'],
      each(row) { seen.push(row.id); row.now.place = seen.length } }`,
  },
  {
    name: 'sibling-in-the-batch-missed',
    breaks: 'batch-equals-singles',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'],
      load: ({ rows, store }) => store.children('parcel', 'van', rows.map(row => row.now.van), ['place']),
      each(row, siblings) { row.now.place = (siblings.get(row.now.van) ?? []).length + 1 } }`,
  },
  {
    name: 'look-up-for-each-row',
    breaks: 'constant-queries',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['van'],
      load: ({ rows, store }) => new Map(rows.map(row => [row.id, store.byId('van', [row.now.van], ['note']).get(row.now.van) ?? null])),
      each(row, vans) { row.now.note = vans.get(row.id)?.note ?? null } }`,
  },
  {
    name: 'query-in-finish-for-each-row',
    breaks: 'constant-queries',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['create', 'update'],
      finish({ rows, store, update }) {
        for (const row of rows) if (row.now.van !== null) {
          const { count } = store.rollup('parcel', 'van', [row.now.van], { count: true }).get(row.now.van)
          update('van', row.now.van, { parcels: count })
        }
      } }`,
  },
  {
    name: 'number-used-twice',
    breaks: 'batch-equals-singles',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'],
      load: ({ store }) => store.find('parcel', {}, { fields: ['place'], orderBy: '-place', limit: 1 }),
      each(row, highest) { row.now.place = (highest[0]?.place ?? 0) + 1 } }`,
  },
  {
    name: 'sequence-asked-once-for-the-batch',
    breaks: 'batch-equals-singles',
    head: 'let number = null',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'],
      each(row, _, { next }) { number ??= next('parcel'); row.now.number = number } }`,
  },
  {
    name: 'effect-overwrites-another',
    breaks: 'batch-equals-singles',
    literal: `{ table: 'parcel', moment: 'after-save', watch: ['grams'],
      each(row, _, { update }) { if (row.now.van !== null) update('van', row.now.van, { grams: row.now.grams }) } }`,
  },
  {
    name: 'last-row-wins',
    breaks: 'order-free',
    literal: `{ table: 'parcel', moment: 'after-save', watch: ['grams'],
      finish({ rows, update }) {
        const last = new Map(rows.filter(row => row.now.van !== null).map(row => [row.now.van, row.now.grams]))
        for (const [van, grams] of last) update('van', van, { grams })
      } }`,
  },
  {
    name: 'adds-to-what-was-before',
    breaks: 'batch-equals-singles',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['create'],
      load: ({ rows, store }) => store.byId('van', rows.map(row => row.now.van), ['parcels']),
      finish({ rows, loaded, update }) {
        const vans = new Set(rows.map(row => row.now.van).filter(van => van !== null))
        for (const van of vans) update('van', van, { parcels: (loaded.get(van)?.parcels ?? 0) + 1 })
      } }`,
  },
  {
    name: 'work-grows-with-the-square',
    breaks: 'linear-growth',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['van'],
      load: ({ rows }) => rows.map(row => row.now.van),
      each(row, vans) { let count = 0; for (const van of vans) { if (van === row.now.van) count++ } row.now.touched = count > 0 ? 1 : 0 } }`,
  },
  {
    name: 'reads-all-for-each',
    breaks: 'linear-growth',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['create', 'update'],
      finish({ rows, store, update }) {
        for (const row of rows) {
          const others = store.find('parcel', { van: row.now.van }, { fields: ['grams'] })
          if (row.now.van !== null) update('van', row.now.van, { grams: others.reduce((sum, each) => sum + (each.grams ?? 0), 0) })
        }
      } }`,
  },
  {
    name: 'record-made-once-for-the-batch',
    breaks: 'batch-equals-singles',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['create'],
      finish({ rows, create }) { create('slip', { parcel: rows[0].id, word: 'new' }) } }`,
  },
  {
    name: 'message-with-a-count',
    breaks: 'batch-equals-singles',
    literal: `{ table: 'parcel', moment: 'after-save', on: ['create'],
      finish({ rows, send }) { send('desk', { parcels: rows.length }) } }`,
  },
  {
    name: 'one-bad-row-fails-all',
    breaks: 'bad-row-alone',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['van'],
      load({ rows, store }) {
        const vans = store.byId('van', rows.map(row => row.now.van), ['note'])
        return new Map(rows.map(row => [row.id, row.now.van === null ? null : vans.get(row.now.van).note]))
      },
      each(row, notes) { row.now.note = notes.get(row.id) ?? null } }`,
  },
  {
    name: 'empty-link-throws',
    breaks: 'empty-and-repeated-links',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['grams'],
      load: ({ rows, store }) => store.byId('van', rows.map(row => row.now.van), ['note']),
      each(row, vans) { row.now.note = vans.get(row.now.van).note } }`,
  },
  {
    name: 'adds-each-time-it-is-saved',
    breaks: 'saving-again-changes-nothing',
    literal: `{ table: 'parcel', moment: 'before-save', each(row) { row.now.touched = (row.now.touched ?? 0) + 1 } }`,
  },
  {
    name: 'note-grows-with-each-save',
    breaks: 'saving-again-changes-nothing',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create', 'update'], only: row => row.now.note !== null,
      each(row) { row.now.note = row.now.note + '!' } }`,
  },
  {
    name: 'place-in-the-batch',
    breaks: 'batch-size-free',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'],
      load: ({ rows }) => new Map(rows.map((row, at) => [row.id, at])),
      each(row, places) { row.now.place = places.get(row.id) } }`,
  },
  {
    name: 'first-of-the-batch-pays-for-all',
    breaks: 'order-free',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['grams'],
      load: ({ rows }) => ({ first: rows[0].id, total: rows.reduce((sum, row) => sum + (row.now.grams ?? 0), 0) }),
      each(row, { first, total }) { row.now.kilos = row.id === first ? total / 1000 : 0 } }`,
  },
  {
    name: 'refuses-all-for-one',
    breaks: 'bad-row-alone',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['grams'],
      load: ({ rows }) => rows.some(row => (row.now.grams ?? 0) > 250),
      each(row, tooHeavy) { if (tooHeavy) row.refuse('grams', 'too heavy') } }`,
  },
  {
    name: 'throws-for-all-where-one-is-bad',
    breaks: 'bad-row-alone',
    literal: `{ table: 'parcel', moment: 'before-save', watch: ['grams'],
      load({ rows }) { for (const row of rows) if ((row.now.grams ?? 0) > 250) throw new Error('too heavy: ' + row.now.grams) },
      each(row) { row.now.kilos = (row.now.grams ?? 0) / 1000 } }`,
  },
]

/** What shows only with more rows, or more records, than people try by hand. */
const many: (Example & { breaks: BulkPropertyName })[] = [
  ...[7, 20, 120].map((most): (typeof many)[number] => ({
    name: `otherwise-above-${most}`,
    breaks: 'batch-equals-singles',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['create'],
      load: ({ rows }) => rows.length > ${most},
      each(row, isMany) { row.now.note = isMany ? 'later' : 'now' } }`,
  })),
  {
    name: 'only-changes-above-20',
    breaks: 'batch-equals-singles',
    literal: `{ table: 'parcel', moment: 'before-save', on: ['update'],
      load: ({ rows }) => rows.length > 20,
      each(row, isMany) { row.now.note = isMany ? 'later' : 'now' } }`,
  },
  ...[3, 4, 10].map((limit): (typeof many)[number] => ({
    name: `a-limit-of-${limit}-for-all`,
    breaks: 'batch-equals-singles',
    literal: `{ table: 'van', moment: 'before-save', on: ['update'],
      load: ({ rows, store }) => store.find('parcel', { van: { in: rows.map(row => row.id) } }, { fields: ['van'], limit: ${limit} }),
      each(row, found) { row.now.parcels = found.filter(parcel => parcel.van === row.id).length } }`,
  })),
]

describe('planted faults', () => {
  test('there are at least fifteen, and every property is broken by one', () => {
    expect(faults.length).toBeGreaterThanOrEqual(15)
    expect(new Set(faults.map((fault) => fault.breaks)).size).toBe(8)
  })

  test.each(faults.map((fault) => [fault.name, fault] as const))('%s', (_, fault) => {
    const verdicts = brokenBy(fault, [fault.breaks])
    const [verdict] = verdicts
    expect(verdict).toMatchObject({ hook: fault.name, property: fault.breaks, holds: false })
    expect(verdict!.ran).toBeGreaterThan(0)
    expect(verdict!.reason).toBeTruthy()
    // What shows it is small.
    expect(verdict!.batch!.length).toBeLessThanOrEqual(3)
  })

  test('what fails for every row is reported, not taken for well', () => {
    const literal = `{ table: 'van', moment: 'before-save', load({ store }) { return store.find('parcel', { none: 1 }) }, each() {} }`
    const verdicts = brokenBy({ name: 'always-fails', literal })
    expect(verdicts.filter(({ holds }) => holds)).toEqual([])
    expect(verdicts[0]!.reason).toContain('none')
  })

  test.each(many.map((fault) => [fault.name, fault] as const))('%s', (_, fault) => {
    const [verdict] = brokenBy(fault, [fault.breaks])
    expect(verdict).toMatchObject({ hook: fault.name, holds: false })
    expect(verdict!.reason).toBeTruthy()
  })
})
