import fc from 'fast-check'
import { beforeEach, describe, expect, test } from 'vitest'
import { dataOf, elementsOf, recordOf } from '../../src/entry/copy.js'
import { describeValue } from '../../src/entry/describe.js'
import { Found } from '../../src/entry/found.js'
import { compared, ids, json } from '../../src/entry/readers.js'
import { shown } from '../../src/entry/shown.js'
import { HookError } from '../../src/errors.js'
import { gotOf } from '../../src/model/values.js'
import { preview } from '../../src/rehearse/preview.js'
import { called, hostileMaker } from './hostile-values.js'

/** Values of hook code are copied without running any code of them. */

beforeEach(() => {
  called.length = 0
})

const kinds: [string, (value: unknown) => unknown][] = [
  ['data', (value) => dataOf(value, 'call')],
  ['a record', (value) => recordOf(value, 'call')],
  ['elements', (value) => elementsOf(value, 'call')],
  ['ids', (value) => ids(value, 'call')],
  ['json', (value) => json(value, 'call')],
  ['what is compared', (value) => compared(value, 'call')],
  ['a line of text', (value) => shown(value, 'call')],
  ['a description', (value) => describeValue(value)],
  ['a preview', (value) => preview(value)],
  ['what came, in words', (value) => gotOf(dataOf(value, 'call'))],
]

test.each(kinds)('nothing is called for %s', (_, read) => {
  fc.assert(
    fc.property(hostileMaker, (make) => {
      const value = make()
      called.length = 0
      try {
        read(value)
      } catch (error) {
        expect(HookError.is(error), String(error)).toBe(true)
      }
      expect(called).toEqual([])
    }),
    { numRuns: 300 },
  )
})

test('plain data comes out as JSON has it, as another object', () => {
  fc.assert(
    fc.property(fc.jsonValue(), (value) => {
      const copy = dataOf(value, 'call')
      expect(JSON.stringify(copy)).toBe(JSON.stringify(value))
      if (value !== null && typeof value === 'object') expect(copy).not.toBe(value)
    }),
  )
})

describe('what is not copied says what it was', () => {
  test.each([
    [new Proxy({}, {}), 'a proxy'],
    [new Date(), 'a Date object (fields hold ISO text)'],
    [new Map(), 'a Map'],
    [() => 1, 'a function'],
  ])('%s', (value, said) => expect(gotOf(dataOf(value, 'call'))).toBe(said))
  test('a computed property', () => {
    const { a } = dataOf({ get a() { return 1 } }, 'call') as { a: unknown } // prettier-ignore
    expect(gotOf(a)).toBe('a computed property')
  })
})

test('too deep and too large is an error', () => {
  const deep = Array.from({ length: 100 }).reduce<unknown>((inner) => [inner], 1)
  expect(() => dataOf(deep, 'send')).toThrow('send was given lists or objects of more than 64 levels')
  expect(() => dataOf(new Array(2_000_000), 'send')).toThrow('send was given a list of 2000000 values')
})

test('ids come from lists, sets, and the keys of maps and look-ups', () => {
  const found = new Found(new Map([[3, 'x']]))
  const map = new Map([[1, 2]])
  for (const [value, expected] of [
    [
      [1, null],
      [1, null],
    ],
    [new Set([1, 2]), [1, 2]],
    [map.keys(), [1]],
    [map.values(), [2]],
    [found.keys(), [3]],
  ] as const)
    expect(ids(value, 'call')).toEqual(expected)
})
