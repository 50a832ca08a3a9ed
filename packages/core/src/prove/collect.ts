import { elementsOf } from '../entry/copy.js'
import { describeValue } from '../entry/describe.js'
import { entry } from '../entry/entry.js'
import { callback, data, list, scalar, type Reader } from '../entry/readers.js'
import { shown } from '../entry/shown.js'
import { HookError } from '../errors.js'
import { gotOf } from '../model/values.js'

/** What `import ... from 'patient-hook/test'` gives to a test file: tests are collected first and run later. */

export interface TestOptions {
  fixtures?: string
  user?: string
  clock?: string
  hooks?: string[]
}
export interface CollectedTest {
  name: string
  options: TestOptions
  skip: boolean
  /** Where a file has such tests, only they run. */
  only: boolean
  /** Called with the test's API. */
  body: (api: unknown) => unknown
  /** Line of the call, from 1. */
  line: number | undefined
}

type Body = (...values: unknown[]) => unknown
const OPTIONS = ['fixtures', 'user', 'clock', 'hooks']

/** @param lineOf finds the line in the test file that is being loaded */
export function makeCollector(
  tests: CollectedTest[],
  expect: unknown,
  lineOf: () => number | undefined,
): Record<string, unknown> {
  const path: string[] = []
  const add = (
    name: unknown,
    given: readonly unknown[],
    call: (body: Body) => (api: unknown) => unknown,
    skip: boolean,
    only = false,
  ) => {
    const [options, body] = given[1] === undefined && gotOf(given[0]) !== 'an object' ? [{}, given[0]] : given
    if (typeof name !== 'string' || (!skip && typeof body !== 'function'))
      throw new HookError('hook/bad-definition', {
        detail: `test takes a name, options if any, and a function, but got ${gotOf(name)} and ${gotOf(body)}`,
      })
    if (options !== undefined && gotOf(options) !== 'an object')
      throw new HookError('hook/bad-definition', {
        detail: `test '${name}' takes its options as an object, but got ${gotOf(options)}`,
      })
    const known = (options ?? {}) as Record<string, unknown>
    for (const key of Object.keys(known))
      if (!OPTIONS.includes(key))
        throw new HookError('hook/bad-definition', {
          detail: `test '${name}': there is no option ${key}; there are ${OPTIONS.join(', ')}`,
        })
    tests.push({
      name: [...path, name].join(' › '),
      options: known as TestOptions,
      skip,
      only,
      body: call(body as Body),
      line: lineOf(),
    })
  }
  const test = entry('test', TEST, (name, first, second) => add(name, [first, second], (body) => (api) => body(api), false), {
    skip: entry('test.skip', TEST, (name, first, second) => add(name, [first, second], () => () => undefined, true)),
    only: entry('test.only', TEST, (name, first, second) =>
      add(name, [first, second], (body) => (api) => body(api), false, true),
    ),
    each: entry('test.each', [list], (cases) => {
      if (!Array.isArray(cases))
        throw new HookError('hook/bad-definition', { detail: `test.each takes a list of cases, but got ${gotOf(cases)}` })
      return entry('test.each', TEST, (name, first, second) =>
        cases.forEach((item: unknown, index) => {
          const values = elementsOf(item, 'test.each') ?? [item]
          add(caseName(String(name), values, index), [first, second], (body) => (api) => body(...values, api), false)
        }),
      )
    }),
  })
  const describe = entry('describe', [scalar, callback], (name, body) => {
    if (typeof body !== 'function')
      throw new HookError('hook/bad-definition', { detail: `describe takes a name and a function, but got ${gotOf(body)}` })
    path.push(typeof name === 'string' ? name : gotOf(name))
    try {
      ;(body as () => void)()
    } finally {
      path.pop()
    }
  })
  return { test, describe, expect }
}

/** The options of a test, or its function. */
const optionsOrBody: Reader<unknown> = (value, call) => (typeof value === 'function' ? callback(value, call) : data(value, call))
/** Of a test: its name, its options, if any, and its function. */
const TEST = [scalar, optionsOrBody, optionsOrBody] as const

/** `%s` takes the values in turn, `$name` a property of an object; a name without either gets its number. */
function caseName(name: string, values: readonly unknown[], index: number): string {
  let at = 0
  const text = (value: unknown): string => shown(value, 'test.each')
  const filled = name
    .replace(/%[sdj]/g, () => text(values[at++]))
    .replace(/\$(\w+)/g, (whole, key: string) => {
      const first = describeValue(values[0])
      return first !== null && typeof first === 'object' && Object.hasOwn(first, key)
        ? text((first as Record<string, unknown>)[key])
        : whole
    })
  return filled === name ? `${name} (${index + 1})` : filled
}
