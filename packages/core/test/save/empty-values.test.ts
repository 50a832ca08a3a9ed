import { describe, expect, test } from 'vitest'
import { text, World } from '../world.js'

/** What the schema says of empty values, and of a leap second (RFC 3339, section 5.7). */

const world = (field: object, required: string[] = []) =>
  new World({ tables: { t: { fields: { v: field as never, n: text }, required } } })
const codeOf = (of: World, v: string | null) => of.try([{ table: 't', values: { n: 'x', v } }]).error?.code ?? null

describe.each([
  ['type: string', { type: 'string' }],
  ['type: string or null', { type: ['string', 'null'] }],
  ['an enum with null', { type: 'string', enum: ['a', null] }],
  ['type string or null, and an enum with null', { type: ['string', 'null'], enum: ['a', null] }],
])('%s', (_, field) => {
  test('may be empty where it is not required, and only there', () => {
    expect([codeOf(world(field), null), codeOf(world(field), 'a')]).toEqual([null, null])
    expect([codeOf(world(field, ['v']), null), codeOf(world(field, ['v']), 'a')]).toEqual(['check/required', null])
  })
})

test('a leap second is kept; a 60th second at any other time is none', () => {
  const w = world({ type: 'string', format: 'date-time' })
  expect(w.put('t', { v: '2016-12-31T18:59:60-05:00' })).toMatchObject([{ v: '2016-12-31T23:59:60.000Z' }])
  expect(codeOf(w, '2016-12-31T23:58:60Z')).toBe('save/wrong-type')
})
