import { describe, expect, test } from 'vitest'
import type { ArgumentShape, FunctionParameter } from '@patient-hook/core/language'
import { argumentsOf, firstValue, problemOf } from '../src/lib/argument-values'

/** Inputs of a function's arguments: what they begin with, what is sent, what is wrong. */

const number: ArgumentShape = { text: 'number', nullable: false, kind: 'number' }
const text: ArgumentShape = { text: 'string', nullable: false, kind: 'text' }
const list = (of: ArgumentShape): ArgumentShape => ({ text: `${of.text}[]`, nullable: false, kind: 'list', of })
const record: ArgumentShape = {
  text: '{ mass: number; note?: string }',
  nullable: false,
  kind: 'record',
  fields: [
    { name: 'mass', optional: false, shape: number },
    { name: 'note', optional: true, shape: text },
  ],
}
const map: ArgumentShape = { text: 'Map<number, …>', nullable: false, kind: 'map', key: number, of: record }
const parameter = (shape: ArgumentShape, more: Partial<FunctionParameter> = {}): FunctionParameter => ({
  name: 'x',
  optional: false,
  rest: false,
  shape,
  ...more,
})

test.each([
  [number, 1],
  [text, ''],
  [list(number), [1]],
  [record, { mass: 1 }],
  [map, [[1, { mass: 1 }]]],
])('begins with a value of its type: %o', (shape, value) => {
  expect(firstValue(shape)).toEqual(value)
  expect(problemOf(shape, value)).toBeNull()
})

describe('what is sent', () => {
  test('a map says that it is one; the rest is spread; what is left out at the end is not there', () => {
    const parameters = [parameter(map), parameter(number, { optional: true }), parameter(list(text), { rest: true })]
    const typed = (...values: [unknown, boolean][]) => values.map(([value, left]) => ({ value, left }))
    expect(argumentsOf(parameters, typed([[[1, {}]], false], [2, false], [['a', 'b'], false]))).toEqual([
      { value: [[1, {}]], as: 'map' },
      { value: 2 },
      { value: 'a' },
      { value: 'b' },
    ])
    expect(argumentsOf(parameters, typed([[], false], [null, true], [['a'], false]))).toEqual([
      { value: [], as: 'map' },
      { value: undefined },
      { value: 'a' },
    ])
    expect(argumentsOf(parameters.slice(0, 2), typed([[], false], [null, true]))).toEqual([{ value: [], as: 'map' }])
  })
})

test.each([
  [number, 'x', '"x" is not a number'],
  [number, null, 'a value is missing'],
  [list(number), [1, null], '[1]: a value is missing'],
  [record, { mass: 'heavy' }, '.mass: "heavy" is not a number'],
  [map, [[1, { mass: null }]], '[0].mass: a value is missing'],
  [{ ...number, kind: 'none' as const, text: '() => void' }, 1, '() => void has no form editor'],
])('%o with %o: %s', (shape, value, problem) => {
  expect(problemOf(shape, value)).toBe(problem)
})

test('what may be null, and JSON, take null', () => {
  expect(problemOf({ ...number, nullable: true }, null)).toBeNull()
  expect(problemOf({ ...number, kind: 'json' }, null)).toBeNull()
})
