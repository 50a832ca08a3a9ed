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
    rest: readonly unknown[],
    call: (body: Body) => (api: unknown) => unknown,
    skip: boolean,
    only = false,
  ) => {
    const [options, body] = rest.length > 1 ? [rest[0], rest[1]] : [{}, rest[0]]
    if (typeof name !== 'string' || (!skip && typeof body !== 'function'))
      throw new HookError('hook/bad-definition', {
        detail: `test takes a name, options if any, and a function, but got ${gotOf(name)} and ${gotOf(body)}`,
      })
    const given = (options ?? {}) as Record<string, unknown>
    for (const key of Object.keys(given))
      if (!OPTIONS.includes(key))
        throw new HookError('hook/bad-definition', {
          detail: `test '${name}': there is no option ${key}; there are ${OPTIONS.join(', ')}`,
        })
    tests.push({
      name: [...path, name].join(' › '),
      options: given as TestOptions,
      skip,
      only,
      body: call(body as Body),
      line: lineOf(),
    })
  }
  const test = (name: unknown, ...rest: unknown[]) => add(name, rest, (body) => (api) => body(api), false)
  test.skip = (name: unknown, ...rest: unknown[]) => add(name, rest.length ? rest : [() => {}], () => () => undefined, true)
  test.only = (name: unknown, ...rest: unknown[]) => add(name, rest, (body) => (api) => body(api), false, true)
  test.each = (cases: unknown) => {
    if (!Array.isArray(cases))
      throw new HookError('hook/bad-definition', { detail: `test.each takes a list of cases, but got ${gotOf(cases)}` })
    return (name: unknown, ...rest: unknown[]) =>
      cases.forEach((item: unknown, index) => {
        const values: unknown[] = Array.isArray(item) ? item : [item]
        add(caseName(String(name), values, index), rest, (body) => (api) => body(...values, api), false)
      })
  }
  const describe = (name: unknown, body: unknown) => {
    if (typeof body !== 'function')
      throw new HookError('hook/bad-definition', { detail: `describe takes a name and a function, but got ${gotOf(body)}` })
    path.push(String(name))
    try {
      ;(body as () => void)()
    } finally {
      path.pop()
    }
  }
  return { test, describe, expect }
}

/** `%s` takes the values in turn, `$name` a property of an object; a name without either gets its number. */
function caseName(name: string, values: readonly unknown[], index: number): string {
  let at = 0
  const text = (value: unknown) => (typeof value === 'string' ? value : (JSON.stringify(value) ?? String(value)))
  const filled = name
    .replace(/%[sdj]/g, () => text(values[at++]))
    .replace(/\$(\w+)/g, (whole, key: string) => {
      const [first] = values
      return first !== null && typeof first === 'object' && key in first ? text((first as Record<string, unknown>)[key]) : whole
    })
  return filled === name ? `${name} (${index + 1})` : filled
}
