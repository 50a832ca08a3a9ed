import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Value } from '../../src/model/types.js'
import type { InputRow } from '../../src/save/types.js'
import { hook, integer, link, text, World } from '../world.js'

/** A partial save keeps exactly the good rows, and names each row that it does not keep. */

const tables = {
  trip: { fields: { seats: integer, taken: integer } },
  booking: { fields: { trip: link('trip'), guests: integer, code: { ...text, 'x-unique': true } } },
  guest: { fields: { booking: link('booking'), name: { ...text, 'x-unique': true }, age: integer } },
}

/** Guests are counted in finish, for their booking now and the one they left; bookings for their trip. */
const COUNTS = {
  'count-guests': hook(`{ table: 'guest', moment: 'after-save', on: ['create', 'update', 'delete'],
    finish({ rows, store, update }) {
      const ids = rows.flatMap((row) => [row.now?.booking, row.was?.booking])
      for (const [id, { count }] of store.rollup('guest', 'booking', ids, { count: true })) update('booking', id, { guests: count })
    } }`),
  'two-at-most': hook(
    `{ table: 'booking', moment: 'before-commit', each(row) { if ((row.now.guests ?? 0) > 2) row.refuse('guests', 'two guests at most') } }`,
  ),
}

function hotel(hooks: Record<string, string>, project = {}): World {
  const world = new World({ tables, hooks, project })
  world.put('trip', { seats: 3 })
  world.put('booking', { trip: 1, code: 'A' }, { trip: 1, code: 'B' }, { trip: 1, code: 'C' })
  return world
}
const guests = (...bookings: (number | null)[]): InputRow[] =>
  bookings.map((booking, index) => ({ table: 'guest', values: { booking, name: `g${index}` } }))
const kept = (world: World, rows: InputRow[]) => {
  const { records, refusals, save } = world.run(rows, { partial: true })
  return {
    kept: records.flatMap((record, index) => (record ? [index + 1] : [])),
    refused: refusals.map((refusal) => refusal.row),
    codes: [...new Set(refusals.map((refusal) => refusal.code))],
    save,
  }
}

describe('what finish asks for counts against the rows that it is about', () => {
  test('a roll-up to the parent: one booking is refused, the other is kept', () => {
    const outcome = kept(hotel(COUNTS), guests(1, 1, 2, 1))
    expect(outcome).toMatchObject({ kept: [3], refused: [1, 2, 4], codes: ['hook/refused'] })
    expect(outcome.save).not.toBeNull()
  })

  test('the same when a before-save hook refuses the booking', () => {
    const refuse = hook(
      `{ table: 'booking', moment: 'before-save', on: ['update'], each(row) { if ((row.now.guests ?? 0) > 2) row.refuse('guests', 'too many') } }`,
    )
    expect(kept(hotel({ 'count-guests': COUNTS['count-guests'], refuse }), guests(1, 1, 2, 1, null))).toMatchObject({
      kept: [3, 5],
      refused: [1, 2, 4],
    })
  })

  test('a guest that left counts for the booking it left', () => {
    const empty = hook(
      `{ table: 'booking', moment: 'before-commit', each(row) { if (row.now.guests === 0) row.refuse('guests', 'nobody left') } }`,
    )
    const world = hotel({ 'count-guests': COUNTS['count-guests'], empty })
    world.run(guests(1, 2))
    const moved = [
      { table: 'guest', values: { id: 1, booking: 3 } },
      { table: 'guest', values: { id: 2, age: 40 } },
    ]
    expect(kept(world, moved)).toMatchObject({ kept: [2], refused: [1] })
  })

  test('two links up: the trip of the booking', () => {
    const seats = hook(`{ table: 'guest', moment: 'after-save', finish({ rows, store, update }) {
      const bookings = store.byId('booking', rows.map((row) => row.now.booking), ['trip'])
      const taken = new Map()
      for (const row of rows) { const trip = bookings.get(row.now.booking)?.trip; if (trip) taken.set(trip, (taken.get(trip) ?? 0) + 1) }
      for (const [id, count] of taken) update('trip', id, { taken: count })
    } }`)
    const full = hook(
      `{ table: 'trip', moment: 'before-save', on: ['update'], each(row) { if (row.now.taken > row.now.seats) row.refuse('taken', 'full') } }`,
    )
    const world = hotel({ seats, full })
    world.put('trip', { seats: 1 })
    world.put('booking', { trip: 2, code: 'D' })
    expect(kept(world, guests(1, 4, 4, 2, null))).toMatchObject({ kept: [1, 4, 5], refused: [2, 3] })
  })

  test('records that finish creates, links to the row or to its parent, and pushes to siblings', () => {
    const name = (call: string) =>
      hook(`{ table: 'booking', moment: 'after-save', on: ['update'], watch: ['code'], ripples: 'none', finish({ rows, store, create, update }) {
        const others = store.children('booking', 'trip', rows.map((row) => row.now.trip), [])
        for (const row of rows) { ${call} } } }`)
    const bad = hook(
      `{ table: 'guest', moment: 'before-save', each(row) { if (row.now.name === 'X') row.refuse('name', 'no X') } }`,
    )
    const far = hook(
      `{ table: 'booking', moment: 'before-save', on: ['update'], each(row) { if (row.now.guests === 99) row.refuse('guests', 'no') } }`,
    )
    const changed = (...codes: string[]) => codes.map((code, index) => ({ table: 'booking', values: { id: index + 1, code } }))
    expect(
      kept(hotel({ make: name(`create('guest', { booking: row.id, name: row.now.code })`), bad }), changed('W', 'X', 'Y')),
    ).toMatchObject({ kept: [1, 3], refused: [2] })
    const siblings = hotel({
      push: name(
        `if (row.now.code === 'X') for (const other of others.get(row.now.trip)) if (other.id === 3) update('booking', 3, { guests: 99 })`,
      ),
      far,
    })
    // Booking 3 is a sibling of both rows by their trip, so both represent it.
    expect(kept(siblings, changed('W', 'X'))).toMatchObject({ kept: [], refused: [1, 2] })
  })

  test('where no link connects them, it counts against all rows of the hook, and each is named', () => {
    const log = hook(`{ table: 'guest', moment: 'after-save', finish({ update }) { update('trip', 1, { taken: 5 }) } }`)
    const full = hook(`{ table: 'trip', moment: 'before-save', on: ['update'], each(row) { row.refuse('taken', 'full') } }`)
    const outcome = kept(hotel({ log, full }), [...guests(null, null), { table: 'booking', values: { code: 'Z' } }])
    expect(outcome).toMatchObject({ kept: [3], refused: [1, 2] })
  })
})

describe('as if the refused rows had never been given', () => {
  const young = hook(
    `{ table: 'guest', moment: 'before-save', each(row) { if ((row.now.age ?? 99) < 18) row.refuse('age', 'too young') } }`,
  )
  const named = (name: string, age: number, booking: number | null = null): InputRow => ({
    table: 'guest',
    values: { name, age, booking },
  })

  test('a unique value of a row that is refused is free', () => {
    expect(kept(hotel({ young }), [named('Ann', 10), named('Ann', 30), named('Ann', 40)])).toMatchObject({
      kept: [2],
      refused: [1, 3],
      codes: ['hook/refused', 'check/unique'],
    })
  })

  test('also when it is refused late, at before-commit or by a ripple', () => {
    const rows = [named('Ann', 30, 1), named('Ann', 31, 2), named('Bob', 32, 1), named('Cid', 33, 1)]
    expect(kept(hotel(COUNTS), rows)).toMatchObject({ kept: [2], refused: [1, 3, 4], codes: ['hook/refused'] })
  })

  test('a value that a refused row would have given up is not free', () => {
    const world = hotel({ young })
    world.run([named('Ann', 30)])
    const rows: InputRow[] = [{ table: 'guest', values: { id: 1, name: 'Bea', age: 10 } }, named('Ann', 40), named('Bea', 50)]
    expect(kept(world, rows)).toMatchObject({ kept: [3], refused: [1, 2] })
  })

  test('in a later batch, and by a hook that looks', () => {
    const once =
      hook(`{ table: 'guest', moment: 'before-save', load: ({ store }) => store.find('guest', {}, { fields: ['name', 'age'] }),
      each(row, all) { if (all.some((other) => other.age === row.now.age)) row.refuse('age', 'one of each age') } }`)
    const world = hotel({ ...COUNTS, once }, { batchSize: 1 })
    const rows = [
      named('a', 1, 1),
      named('b', 2, 1),
      named('c', 3, 1),
      named('d', 1, 2),
      named('a', 7, 3),
      named('e', 9, 2),
      named('f', 9, 2),
    ]
    expect(kept(world, rows)).toMatchObject({ kept: [4, 5, 6], refused: [1, 2, 3, 7] })
  })

  test('one refused row of a document takes the document, and its values are free', () => {
    const document = (as: string, code: string, age: number): InputRow[] => [
      { table: 'booking', values: { code }, as },
      { table: 'guest', values: { booking: { ref: as }, age, name: as } },
    ]
    expect(kept(hotel({ young }), [...document('x', 'N', 3), ...document('y', 'N', 30)])).toMatchObject({
      kept: [3, 4],
      refused: [1, 2],
      codes: ['save/document-refused', 'hook/refused'],
    })
  })
})

test('whatever is given: what is kept is saved alone without a refusal, and no refused row could have been added', () => {
  const hooks = {
    ...COUNTS,
    young: hook(`{ table: 'guest', moment: 'before-save', each(row) { if (row.now.age < 0) row.refuse('age', 'no') } }`),
  }
  const row = fc.record({
    booking: fc.constantFrom(1, 2, null),
    name: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'),
    age: fc.integer({ min: -1, max: 2 }),
  })
  fc.assert(
    fc.property(fc.array(row, { minLength: 1, maxLength: 8 }), fc.constantFrom(1, 3, 500), (values, batchSize) => {
      const rows = values.map((each) => ({ table: 'guest', values: each as Record<string, Value> }))
      const world = hotel(hooks, { batchSize })
      const outcome = kept(world, rows)
      expect([...new Set([...outcome.kept, ...outcome.refused])]).toHaveLength(rows.length)
      const good = rows.filter((_, index) => outcome.kept.includes(index + 1))
      if (good.length > 0) expect(hotel(hooks, { batchSize }).try(good).error).toBeNull()
      for (const number of outcome.refused) {
        const alone = hotel(hooks, { batchSize })
        if (good.length > 0) alone.run(good)
        const { error } = alone.try([rows[number! - 1]!])
        // A booking that is full is full for all who asked for it: none of them is preferred.
        const rivals = rows.filter(
          (each) => each.values['booking'] !== null && each.values['booking'] === rows[number! - 1]!.values['booking'],
        )
        if (rivals.length <= 2) expect(error).not.toBeNull()
      }
    }),
    { numRuns: 80 },
  )
})

test('a try without the refused rows finds records as they were before the save, and in later batches as it left them', () => {
  const hooks = {
    'a-told': hook(
      `{ table: 'guest', moment: 'before-save', on: ['update'], each(row, _, { log }) { log(row.id + ' was ' + row.was.age + (row.now.age === 13 ? ', refused' : '')); if (row.now.age === 13) row.refuse('age', 'no') } }`,
    ),
    // A guest who is changed makes the next one a hundred years older, anyone who that is.
    'b-older': hook(
      `{ table: 'guest', moment: 'after-save', on: ['update'], ripples: 'none', each(row, _, { update }) { if (row.id < 5) update('guest', row.id + 1, { age: 100 + row.id }) } }`,
    ),
  }
  const world = hotel(hooks, { batchSize: 2 })
  world.put('guest', ...[1, 2, 3, 4, 5].map((age) => ({ age, name: `g${age}` })))
  const rows = [20, 13, 40, 50, 60].map((age, index) => ({ table: 'guest', values: { id: index + 1, age } }))
  const { logs, refusals, records } = world.run(rows, { partial: true })
  expect(refusals.map(({ row }) => row)).toEqual([2])
  // Guests 1 and 3 are the first batch now; 4 and 5 come after what those did to 2 and 4.
  expect(logs.map(({ text }) => text)).toEqual(['1 was 1', '3 was 3', '2 was 2', '4 was 4', '4 was 103', '5 was 5', '5 was 60'])
  expect(records.map((record) => record && record['age'])).toEqual([20, null, 40, 50, 104])
})
