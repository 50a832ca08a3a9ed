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

/** What the test file that is being loaded has told so far. */
export interface Collected {
  tests: CollectedTest[]
  /** What runs before each test of the file. */
  setups: Body[]
  /** The line of the test file that is at work, from 1. */
  lineOf: () => number | undefined
}
export const nothingCollected = (): Collected => ({ tests: [], setups: [], lineOf: () => undefined })
const OPTIONS = ['fixtures', 'user', 'clock', 'hooks']

export function makeCollector(state: Collected, expect: unknown): Record<string, unknown> {
  const path: string[] = []
  /** By describe around: what runs before each test of it, also where it stands behind that. */
  const setups: Body[][] = []
  let skipping = 0
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
    const before = [state.setups, ...setups]
    const run = call(body as Body)
    state.tests.push({
      name: [...path, name].join(' › '),
      options: known as TestOptions,
      skip: skip || skipping > 0,
      only,
      body: (api) => {
        for (const setup of before.flat()) setup(api)
        return run(api)
      },
      line: state.lineOf(),
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
  const group = (name: unknown, body: unknown) => {
    if (typeof body !== 'function')
      throw new HookError('hook/bad-definition', { detail: `describe takes a name and a function, but got ${gotOf(body)}` })
    path.push(typeof name === 'string' ? name : gotOf(name))
    setups.push([])
    try {
      ;(body as () => void)()
    } finally {
      path.pop()
      setups.pop()
    }
  }
  const describe = entry('describe', [scalar, callback], group, {
    skip: entry('describe.skip', [scalar, callback], (name, body) => {
      skipping++
      try {
        group(name, body)
      } finally {
        skipping--
      }
    }),
  })
  const beforeEach = entry('beforeEach', [callback], (setup) => {
    if (typeof setup !== 'function')
      throw new HookError('hook/bad-definition', { detail: `beforeEach takes a function, but got ${gotOf(setup)}` })
    ;(setups.at(-1) ?? state.setups).push(setup as Body)
  })
  return { test, describe, beforeEach, expect }
}

/** The options of a test, or its function. */
const optionsOrBody: Reader<unknown> = (value, call) => (typeof value === 'function' ? callback(value, call) : data(value, call))
/** Of a test: its name, its options, if any, and its function. */
const TEST = [scalar, optionsOrBody, optionsOrBody] as const

/**
 * The name of a case, by the letters of printf as most test runners take them: %s, %d, %i, %f, %j, %o and %O take the values in turn, %# is
 * the case's place from 0, %$ from 1, %% a per cent sign; `$name` and `$name.part` are of an object. A name without any of them gets its number.
 */
function caseName(name: string, values: readonly unknown[], index: number): string {
  let at = 0
  const text = (value: unknown): string => shown(value, 'test.each')
  const filled = name
    .replace(/%([sdifjoO#$%])/g, (_, letter: string) => {
      if (letter === '%') return '%'
      if (letter === '#') return String(index)
      if (letter === '$') return String(index + 1)
      const value = values[at++]
      if (letter === 'd' || letter === 'f') return String(Number(value))
      if (letter === 'i') return String(Math.trunc(Number(value)))
      return text(value)
    })
    .replace(/\$(\w+(?:\.\w+)*)/g, (whole, path: string) => {
      let part: unknown = describeValue(values[0])
      for (const key of path.split('.')) {
        if (part === null || typeof part !== 'object' || !Object.hasOwn(part, key)) return whole
        part = (part as Record<string, unknown>)[key]
      }
      return text(part)
    })
  return filled === name ? `${name} (${index + 1})` : filled
}
