import { types } from 'node:util'
import { expect as hostExpect } from 'expect'
import { entry, entryOfMany } from '../entry/entry.js'
import { compared } from '../entry/readers.js'
import { sealClassWith, sealFunctions } from '../harden.js'
import { once } from '../once.js'
import { readThrown } from '../sandbox/thrown.js'

/**
 * What tests are given as `expect`: the matchers that compare at once. What waits for a promise, or changes the library for everybody,
 * is not there; and nothing that is handed out leads back to the library's own objects.
 */

type Matcher = (...values: unknown[]) => void
type Host = typeof hostExpect & Record<string, (...values: unknown[]) => unknown>

/** The names of what makes values that match more than one thing. */
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
    message: withoutFrames(readThrown(thrown).message),
    sides: both ? { expected: show(matcher.expected), received: show(matcher.actual) } : {},
  })
}

/** Of an error that a test threw, the library shows the stack, which leads through our own code. */
const withoutFrames = (message: string): string => message.replaceAll(/\n\s+at [^\n]*:\d+:\d+\)?(?=\n|$)/g, '').trimEnd()

/** Flags of a pattern, by the property that each represents (ECMA-262, RegExp.prototype.flags). */
const FLAGS = {
  hasIndices: 'd',
  global: 'g',
  ignoreCase: 'i',
  multiline: 'm',
  dotAll: 's',
  unicode: 'u',
  unicodeSets: 'v',
  sticky: 'y',
} as const
const slot = (name: string) => Object.getOwnPropertyDescriptor(RegExp.prototype, name)!.get!

/** A pattern of a test is of the sandbox’s own kind: the library knows, and shows, only its own kind. */
function ownPattern(value: unknown): unknown {
  if (!types.isRegExp(value)) return value
  const flags = Object.entries(FLAGS).map(([name, letter]) => (slot(name).call(value) ? letter : ''))
  return new RegExp(slot('source').call(value) as string, flags.join(''))
}

let asked = 0
/** How many expectations were put to the test since the thread began. */
export const expectations = (): number => asked
/** One that is no matcher, such as that a save is refused. */
export const noteExpectation = (): void => void asked++

/** What `expect(actual)` gives, and what its `not` gives: the matchers are the prototype's, one for each that the library has. */
class Expectation {
  readonly #host: Record<string, Matcher>

  constructor(host: unknown, not: object | null) {
    this.#host = host as Record<string, Matcher>
    if (not) Object.defineProperty(this, 'not', { value: not, enumerable: true })
    Object.freeze(this)
  }

  static {
    const sample = hostExpect(0) as unknown as Record<string, unknown>
    const names = Object.keys(sample).filter((name) => typeof sample[name] === 'function')
    const matcher = (name: string) =>
      entryOfMany(`expect.${name}`, compared, function (this: Expectation, values) {
        asked++
        try {
          this.#host[name]!(...values.map(ownPattern))
        } catch (error) {
          note(error)
          throw error
        }
      })
    sealClassWith(Expectation, Object.fromEntries(names.map((name) => [name, matcher(name)])))
  }
}

function frozenDeep<T extends object>(made: T): T {
  for (let at: object | null = made; at !== null && at !== Object.prototype; at = Object.getPrototypeOf(at) as object | null)
    Object.freeze(at)
  return made
}

/** Makers of values that match more than one thing. */
const shapesOf = (of: Record<string, (...values: unknown[]) => unknown>, names: readonly string[]) =>
  sealFunctions(
    Object.fromEntries(
      names.map((name) => [
        name,
        entryOfMany(`expect.${name}`, compared, (values) => frozenDeep(of[name]!(...values.map(ownPattern)) as object)),
      ]),
    ),
  )

/** One for the thread: it has no state of its users. */
export const safeExpect = once((): unknown => {
  const host = hostExpect as Host
  return entry(
    'expect',
    [compared],
    (actual) => {
      const given = hostExpect(actual) as unknown as Record<string, unknown>
      return new Expectation(given, new Expectation(given['not'], null))
    },
    { ...shapesOf(host, SHAPES), not: shapesOf(host.not as unknown as Host, NOT_SHAPES) },
  )
})
