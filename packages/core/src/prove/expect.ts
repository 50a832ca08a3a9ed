import { types } from 'node:util'
import { expect as hostExpect } from 'expect'
import { readThrown } from '../sandbox/thrown.js'

/**
 * What tests are given as `expect`: the matchers that compare at once. What waits for a promise, or changes the library for everybody,
 * is not there; and nothing that is handed out leads back to the library's own objects.
 */

type Matcher = (...values: unknown[]) => void
type Host = typeof hostExpect & Record<string, (...values: unknown[]) => unknown>

/** Makers of values that match more than one thing. */
const SHAPES = [
  'any',
  'anything',
  'arrayContaining',
  'closeTo',
  'objectContaining',
  'stringContaining',
  'stringMatching',
] as const
const NOT_SHAPES = ['arrayContaining', 'objectContaining', 'stringContaining', 'stringMatching'] as const

/** The compared sides of what a matcher threw, which only we have seen. */
export interface MatcherResult {
  message: string
  sides: { expected?: string; received?: string }
}
const results = new WeakMap<object, MatcherResult>()

/** @returns null for whatever no matcher of ours threw */
export const matcherResult = (thrown: unknown): MatcherResult | null =>
  thrown !== null && typeof thrown === 'object' ? (results.get(thrown) ?? null) : null

function note(thrown: unknown): void {
  if (!types.isNativeError(thrown)) return
  const matcher = Object.getOwnPropertyDescriptor(thrown, 'matcherResult')?.value as
    { expected?: unknown; actual?: unknown } | undefined
  if (!matcher) return
  const show = (value: unknown): string => {
    try {
      return value === undefined ? 'undefined' : (JSON.stringify(value, null, 2) ?? String(value))
    } catch (error) {
      return readThrown(error).message
    }
  }
  // Matchers that compare in parts say the difference in their message only.
  const both = 'expected' in matcher && 'actual' in matcher
  results.set(thrown, {
    message: readThrown(thrown).message,
    sides: both ? { expected: show(matcher.expected), received: show(matcher.actual) } : {},
  })
}

let asked = 0
/** How many expectations were put to the test since the thread began. */
export const expectations = (): number => asked
/** One that is no matcher, such as that a save is refused. */
export const noteExpectation = (): void => void asked++

function matchers(host: Record<string, unknown>, names: readonly string[]): Record<string, Matcher> {
  const guarded = Object.create(null) as Record<string, Matcher>
  for (const name of names)
    guarded[name] = Object.freeze((...values: unknown[]) => {
      asked++
      try {
        ;(host[name] as Matcher)(...values)
      } catch (error) {
        note(error)
        throw error
      }
    })
  return guarded
}

function frozenDeep<T extends object>(made: T): T {
  for (let at: object | null = made; at !== null && at !== Object.prototype; at = Object.getPrototypeOf(at) as object | null)
    Object.freeze(at)
  return made
}

let shared: unknown

/** One for the thread: it keeps nothing of those who use it. */
export function safeExpect(): unknown {
  if (shared) return shared
  const host = hostExpect as Host
  const sample = hostExpect(0) as unknown as Record<string, unknown>
  const names = Object.keys(sample).filter((name) => typeof sample[name] === 'function')
  const expect = (actual: unknown) => {
    const given = hostExpect(actual) as unknown as Record<string, unknown>
    return Object.freeze({
      ...matchers(given, names),
      not: Object.freeze(matchers(given['not'] as Record<string, unknown>, names)),
    })
  }
  const shapes = (of: Record<string, (...values: unknown[]) => unknown>, which: readonly string[]) =>
    Object.fromEntries(
      which.map((name) => [name, Object.freeze((...values: unknown[]) => frozenDeep(of[name]!(...values) as object))]),
    )
  const not = host.not as unknown as Host
  shared = Object.freeze(Object.assign(expect, shapes(host, SHAPES), { not: Object.freeze(shapes(not, NOT_SHAPES)) }))
  return shared
}
