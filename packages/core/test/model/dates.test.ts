import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { isDateTime, utcText } from '../../src/model/dates.js'
import { filesOf, hook, text, World } from '../world.js'
import { makeRuntime } from '../../src/engine/runtime.js'

/** The one form of date-times, held against the language's own Date and its toISOString (ECMAScript, 21.4.4.36). */

const offset = fc
  .tuple(fc.constantFrom('+', '-'), fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
  .map(([sign, hours, minutes]) => `${sign}${String(hours).padStart(2, '0')}:${String(minutes).padStart(2, '0')}`)
const written = fc
  .tuple(
    fc.date({ min: new Date('0002-01-01T00:00:00Z'), max: new Date('9998-01-01T00:00:00Z'), noInvalidDate: true }),
    fc.oneof(fc.constant('Z'), fc.constant('z'), offset),
    fc.constantFrom(0, 1, 2, 3, 6),
  )
  .map(
    ([date, zone, digits]) =>
      date.toISOString().slice(0, 19) +
      (digits ? `.${date.toISOString().slice(20, 23).padEnd(digits, '0').slice(0, digits)}` : '') +
      zone,
  )

describe('the one form', () => {
  test('is what Date gives for the same moment', () => {
    fc.assert(
      fc.property(written, (moment) => {
        expect(utcText(moment)).toBe(new Date(moment.toUpperCase()).toISOString())
      }),
      { numRuns: 2000 },
    )
  })

  test('orders as time does, and one moment has one text', () => {
    fc.assert(
      fc.property(written, written, (a, b) => {
        const [left, right] = [utcText(a)!, utcText(b)!]
        expect(Math.sign(Date.parse(a.toUpperCase()) - Date.parse(b.toUpperCase()))).toBe(
          left < right ? -1 : left > right ? 1 : 0,
        )
      }),
      { numRuns: 2000 },
    )
  })

  test.each([
    ['1990-12-31T23:59:60Z', '1990-12-31T23:59:60.000Z'],
    ['1990-12-31T15:59:60-08:00', '1990-12-31T23:59:60.000Z'],
    ['2026-03-01T00:30:00.5+01:00', '2026-02-28T23:30:00.500Z'],
    ['0000-01-01T00:00:00Z', '0000-01-01T00:00:00.000Z'],
    ['2026-03-01T09:30:00.123000Z', '2026-03-01T09:30:00.123Z'],
  ])('%s is kept as %s', (given, kept) => expect(utcText(given)).toBe(kept))

  test.each([
    ['finer than a millisecond', '2026-03-01T09:30:00.1234Z', true],
    ['before the year 0 in UTC', '0000-01-01T00:00:00+01:00', true],
    ['after the year 9999 in UTC', '9999-12-31T23:59:59-01:00', true],
    ['no colon in the offset', '2026-03-01T09:30:00+0200', false],
    ['hours alone as offset', '2026-03-01T09:30:00+02', false],
    ['no offset', '2026-03-01T09:30:00', false],
    ['a space', '2026-03-01 09:30:00Z', false],
  ])('%s is refused: %s', (_, given, valid) => {
    expect(isDateTime(given)).toBe(valid)
    expect(utcText(given)).toBeNull()
  })
})

describe('wherever a date-time comes in, it is kept in that form', () => {
  const at = { ...text, format: 'date-time' }
  const tables = {
    visit: { fields: { at, seen: at, told: { ...at, default: '2026-01-01T01:00:00+01:00' } } },
    note: { fields: { at } },
  }
  const UTC = '2026-03-01T12:30:00.000Z'

  test('typed, set by a hook, asked for as an effect, from the clock, by default', () => {
    const set = hook(
      `{ table: 'visit', moment: 'before-save', each(row, _, { clock }) { if (row.event === 'create') row.now.seen = clock; else row.now.seen = '2026-03-01T13:30:00+01:00' } }`,
    )
    const see = hook(`{ table: 'visit', moment: 'before-save', after: ['set'], each(row, _, { log }) { log(row.now.seen) } }`)
    const make = hook(
      `{ table: 'visit', moment: 'after-save', on: ['create'], each(row, _, { create }) { create('note', { at: '2026-03-01T13:30:00+01:00' }) } }`,
    )
    const world = new World({ tables, hooks: { set, see, make } })
    const { records, logs } = world.run([{ table: 'visit', values: { at: '2026-03-01T09:30:00-03:00' } }], {
      clock: '2026-03-01T14:30:00+02:00',
    })
    expect(records[0]).toMatchObject({ at: UTC, seen: UTC, told: '2026-01-01T00:00:00.000Z' })
    expect(world.all('note')).toMatchObject([{ at: UTC }])
    expect(logs).toMatchObject([{ text: UTC }])
    // The same moment, written differently, is no change: by hand or by the hook.
    const again = world.run([{ table: 'visit', values: { id: 1, at: '2026-03-01T12:30:00Z' } }])
    expect(again.rows[0]!.changes).toEqual([])
    expect(again.spent.rowsWritten).toBe(0)
  })

  test('a look-up finds the moment in whichever offset it asks for it', () => {
    const look = hook(`{ table: 'note', moment: 'before-save',
      load: ({ store }) => [store.find('visit', { at: '2026-03-01T14:30:00+02:00' }), store.find('visit', { at: { gt: '2026-03-01T14:29:59+02:00', lte: '2026-03-01T09:30:00-03:00' } }), store.find('visit', { at: { in: ['2026-03-01T14:30:00+02:00'] } })],
      each(row, found, { log }) { log(found.map((each) => each.length).join()) } }`)
    const world = new World({ tables, hooks: { look } })
    world.put('visit', { at: '2026-03-01T09:30:00-03:00' }, { at: '2026-03-01T12:30:00.001Z' })
    expect(world.run([{ table: 'note', values: {} }]).logs).toMatchObject([{ text: '1,1,1' }])
  })

  test('records of files, choices and defaults of a table', () => {
    const files = filesOf({ tables: { visit: { fields: { at, kind: { ...at, enum: ['2026-01-01T01:00:00+01:00'] } } } } })
    files.set('fixtures/base/visit.csv', 'id,at,kind\n1,2026-03-01T09:30:00-03:00,2026-01-01T00:00:00Z\n')
    files.set('data/visit.json', JSON.stringify([{ at: '2026-03-01T09:30:00-03:00' }]))
    const { project } = makeRuntime(files)
    expect(project.fixtures.get('base')!.get('visit')).toMatchObject([{ at: UTC, kind: '2026-01-01T00:00:00.000Z' }])
    expect(project.data.get('visit')).toMatchObject([{ at: UTC }])
    files.set('tables/visit.json', JSON.stringify({ type: 'object', properties: { kind: { ...at, enum: ['soon'] } } }))
    expect(() => makeRuntime(files)).toThrow(/"soon" is not a date-time/)
  })
})
