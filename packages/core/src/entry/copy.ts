import { types } from 'node:util'
import { HookError } from '../errors.js'
import { LONGEST_TEXT } from '../model/values.js'
import { Unusable } from '../unusable.js'

/**
 * Copies values of hook code into plain data of the engine's own. No code of a value runs: only own data properties are read,
 * and what could run code when it is looked at (proxies, computed properties) becomes an `Unusable`.
 */

// Held here: hook code shares the globals, and what stands on them is slower to reach once they are frozen.
const { getOwnPropertyDescriptor } = Object
const { ownKeys } = Reflect
const { isArray } = Array
const { isProxy, isDate, isMap, isSet, isRegExp } = types
const timeOf = (date: unknown): number => Date.prototype.getTime.call(date)
const isoOf = (date: unknown): string => Date.prototype.toISOString.call(date)

/** Levels of lists and objects, values in all, and characters of all texts together. */
const DEEPEST = 64
const MOST = 1_000_000
const MOST_TEXT = 20 * LONGEST_TEXT

class Size {
  #values = MOST
  #characters = MOST_TEXT

  constructor(readonly call: string) {}

  add(value: unknown): void {
    this.#values--
    if (typeof value === 'string') this.#characters -= value.length
    if (this.#values < 0) throw tooLarge(this.call, `more than ${MOST} values`)
    if (this.#characters < 0) throw tooLarge(this.call, `more than ${MOST_TEXT} characters of text`)
  }
}

const tooLarge = (call: string, what: string) => new HookError('hook/bad-argument', { detail: `${call} was given ${what}` })

/** What an object is that is not copied, in words; null for a list and an object of named values. */
function unusable(value: object): string | null {
  if (isProxy(value)) return 'a proxy'
  if (typeof value === 'function') return 'a function'
  if (isDate(value)) return 'a Date object (fields hold ISO text)'
  if (isMap(value)) return 'a Map'
  if (isSet(value)) return 'a Set'
  if (isRegExp(value)) return 'a RegExp'
  return null
}

const isObject = (value: unknown): value is object => (typeof value === 'object' && value !== null) || typeof value === 'function'

/** The stored value of an own property. */
function own(object: object, key: PropertyKey): unknown {
  const property = getOwnPropertyDescriptor(object, key)
  if (property === undefined) return undefined
  return 'value' in property ? property.value : new Unusable('a computed property')
}

function put(into: Record<string, unknown>, key: string, value: unknown): void {
  if (key === '__proto__') Object.defineProperty(into, key, { value, writable: true, enumerable: true, configurable: true })
  else into[key] = value
}

/** The own enumerable values of an object, each as it is; computed ones are unusable. @param value not a proxy */
function ownValues(value: object): Record<string, unknown> {
  const copy: Record<string, unknown> = {}
  for (const key of ownKeys(value)) {
    if (typeof key === 'symbol') continue
    const property = getOwnPropertyDescriptor(value, key)!
    if (!property.enumerable) continue
    put(copy, key, 'value' in property ? property.value : new Unusable('a computed property'))
  }
  return copy
}

/** The elements of a list, each as it is; null for what is no list. */
export function elementsOf(value: unknown, call: string): unknown[] | null {
  if (!isObject(value) || isProxy(value) || !isArray(value)) return null
  const { length } = value
  if (length > MOST) throw tooLarge(call, `a list of ${length} values`)
  const copy: unknown[] = []
  for (let at = 0; at < length; at++) copy.push(own(value, at))
  return copy
}

/** A value that is no object, or an `Unusable` that says what came instead. */
export const scalarOf = (value: unknown): unknown =>
  isObject(value) && Unusable.saidOf(value) === null ? new Unusable(unusable(value) ?? kindOf(value)) : value

const kindOf = (value: object): string => (isArray(value) ? 'a list' : 'an object')

/** An object of named values that are no objects themselves, as effects take them; other values become unusable. */
export function recordOf(value: unknown, _call: string): unknown {
  if (!isObject(value)) return value
  const no = unusable(value)
  if (no !== null) return new Unusable(no)
  if (isArray(value)) return new Unusable('a list')
  const copy = ownValues(value)
  for (const key in copy) copy[key] = scalarOf(copy[key])
  return copy
}

export interface DataOptions {
  /** A Date becomes ISO text, as in JSON. Default: it is unusable. */
  dates?: boolean
}

/** Lists and objects of any depth. @throws HookError hook/bad-argument where it is too deep or too large */
export function dataOf(value: unknown, call: string, options: DataOptions = {}): unknown {
  return copyOf(value, 0, new Size(call), options)
}

function copyOf(value: unknown, depth: number, size: Size, options: DataOptions): unknown {
  size.add(value)
  if (!isObject(value) || Unusable.saidOf(value) !== null) return value
  if (options.dates && !isProxy(value) && isDate(value))
    return Number.isNaN(timeOf(value)) ? new Unusable('an invalid Date') : isoOf(value)
  const no = unusable(value)
  if (no !== null) return new Unusable(no)
  if (depth === DEEPEST) throw tooLarge(size.call, `lists or objects of more than ${DEEPEST} levels`)
  if (isArray(value)) return elementsOf(value, size.call)!.map((each) => copyOf(each, depth + 1, size, options))
  const copy = ownValues(value)
  for (const key in copy) copy[key] = copyOf(copy[key], depth + 1, size, options)
  return copy
}
