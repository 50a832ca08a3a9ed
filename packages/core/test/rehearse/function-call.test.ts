import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import type { Argument } from '@patient-hook/contract'
import { TestEngine } from '../test-engine.js'
import { filesOf, hook, text } from '../world.js'

/** Functions of lib called by themselves, and kept as tests. */

const FILE = 'plugins/p/lib/m.ts'
const LIB = `
export function twice(value: number): number {
  const doubled = value * 2
  return doubled
}
export const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0)
export const heavier = (masses: ReadonlyMap<number, number>, limit: number) => [...masses].filter(([, mass]) => mass > limit).map(([id]) => id)
export const names = (all: Set<string>) => ({ count: all.size, first: [...all][0] ?? null })
export function fail(reason: string): never { throw new RangeError('no ' + reason) }
export function empty() {}
export const odd = () => ({ zero: -0, none: undefined, not: NaN, map: new Map([[1, new Set(['a'])]]), "it's": "it's" })
export const give = () => () => 1
export function spin() { for (;;) {} }
export function spoil(list: number[]) { list.push(1); return list.length }
let calls = 0
export const count = () => ++calls
export default (value: string | null) => value ?? 'nothing'
export const limit = 7
function here() { return 'here' }
export { here as there }
`
let engine: TestEngine
beforeEach(() => {
  engine = new TestEngine()
  engine.open(
    Object.fromEntries(
      filesOf({
        tables: { item: { fields: { name: text } } },
        hooks: { h: hook(`{ table: 'item', moment: 'before-save', each(row) { void row } }`) },
        lib: { m: LIB },
        project: { budgets: { steps: 100_000 } },
      }),
    ),
  )
})
afterEach(() => engine.close())

const args = (...values: unknown[]): Argument[] => values.map((value) => ({ value }))
const call = (name: string, ...values: unknown[]) => engine.callFunction({ file: FILE, name, args: args(...values) }, undefined)
const keep = (name: string, given: Argument[], drafts?: Record<string, string>) =>
  engine.keepFunctionTest({ file: FILE, name, args: given }, `what ${name} gives`, drafts)

describe('a call', () => {
  test('gives its value, in words and as JSON, and what each line came to', () => {
    const { result, error, lines, steps } = call('twice', 21)
    expect({ result, error }).toEqual({ result: { text: '42', json: 42 }, error: null })
    expect(lines.map(({ line, values }) => [line, values.map(({ name, last }) => `${name} ${last}`)])).toEqual([
      [3, ['doubled 42']],
      [4, ['return 42']],
    ])
    expect(steps).toBeGreaterThan(0)
  })

  test('takes maps and sets', () => {
    const masses: Argument = {
      value: [
        [1, 5],
        [2, 9],
      ],
      as: 'map',
    }
    expect(engine.callFunction({ file: FILE, name: 'heavier', args: [masses, { value: 6 }] }, undefined).result!.json).toEqual([
      2,
    ])
    const all: Argument = { value: ['a', 'b', 'a'], as: 'set' }
    expect(engine.callFunction({ file: FILE, name: 'names', args: [all] }, undefined).result!.json).toEqual({
      count: 2,
      first: 'a',
    })
    for (const value of ['x', [[1]], [1, 2]])
      expect(() => engine.callFunction({ file: FILE, name: 'heavier', args: [{ value, as: 'map' }] }, undefined)).toThrow(/a map/)
  })

  test('says what it threw, and where', () => {
    expect(call('fail', 'bread')).toMatchObject({
      result: null,
      error: { code: 'hook/threw', message: 'RangeError: no bread', file: FILE, line: 9 },
    })
  })

  test('ends at the budget of a save', () => {
    expect(call('spin')).toMatchObject({ result: null, error: { code: 'budget/spent', file: FILE } })
  })

  test('starts over each time, and changes nothing that it was given', () => {
    expect([call('count').result!.json, call('count').result!.json]).toEqual([1, 1])
    const list = [5]
    expect(call('spoil', list).result!.json).toBe(2)
    expect(list).toEqual([5])
  })

  test('runs the text in the editor', () => {
    const drafts = { [FILE]: LIB.replace('value * 2', 'value * 3') }
    expect(engine.callFunction({ file: FILE, name: 'twice', args: args(2) }, drafts).result!.json).toBe(6)
  })

  test('what is no function, or not there, is an error', () => {
    expect(() => call('limit')).toThrow(/exports no function limit/)
    expect(() => call('twize')).toThrow(/twice/)
    expect(() => call('toString')).toThrow(/exports no function/)
    expect(() => engine.callFunction({ file: 'plugins/p/lib/x.ts', name: 'f', args: [] }, undefined)).toThrow(/missing/)
    for (const file of ['project.json', 'plugins/p/hooks/h.ts', 'plugins/p/lib/../hooks/h.ts'])
      expect(() => engine.callFunction({ file, name: 'default', args: [] }, undefined)).toThrow(/is not a module|missing/)
  })
})

describe('kept as a test', () => {
  test.each([
    ['twice', args(21), 'expect(twice(21)).toBe(42)'],
    ['sum', args([1, 2.5]), 'expect(sum([1, 2.5])).toBe(3.5)'],
    ['fail', args("it's"), `expect(() => fail('it\\'s')).toThrow('no it\\'s')`],
    ['empty', [], 'expect(empty()).toBeUndefined()'],
    ['odd', [], 'map: new Map([[1, new Set('],
    ['names', [{ value: ['a'], as: 'set' as const }], `expect(names(new Set(['a']))).toEqual({ count: 1, first: 'a' })`],
    ['there', [], `expect(there()).toBe('here')`],
    ['default', args(null), `expect(called(null)).toBe('nothing')`],
  ])('%s', (name, given, code) => {
    const kept = keep(name, given)
    expect(kept.files[kept.file]).toContain(code)
    expect(kept.file).toBe(`plugins/p/tests/what-${name}-gives.test.ts`)
    // A function that does nothing cannot be missed by a test that expects nothing of it, but here it throws.
    expect(kept).toMatchObject({ failure: null, notices: [{ without: name, fails: true }] })
  })

  test('what code cannot say is not kept', () => {
    expect(() => keep('give', [])).toThrow(/a function cannot be written into a test/)
  })

  test('a name that is taken', () => {
    const { files } = keep('twice', args(1))
    expect(() => keep('twice', args(2), files)).toThrow(/is there already/)
  })
})
