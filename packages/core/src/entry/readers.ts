import { types } from 'node:util'
import { HookError } from '../errors.js'
import { gotOf, LONGEST_TEXT } from '../model/values.js'
import { cut } from '../text.js'
import { Unusable } from '../unusable.js'
import { dataOf, elementsOf, recordOf, scalarOf } from './copy.js'

/**
 * How each argument of a call is read before the call sees it. A reader either gives plain data of the engine's own or a value of which
 * nothing can be run; what the call then makes of a wrong type is its own error.
 * @param call as people write it, for errors: `store.byId`
 */
export type Reader<T> = (value: unknown, call: string) => T

/** A value that is no object: a name, an id. Anything else arrives as an `Unusable`, which the call refuses. */
export const scalar: Reader<unknown> = scalarOf

/** An object of values that are no objects. */
export const record: Reader<unknown> = recordOf

/** Lists and objects of any depth. */
export const data: Reader<unknown> = (value, call) => dataOf(value, call)

/** The elements of a list, each handed back only to the code that gave them. A value that is no list arrives as it is. */
export const list: Reader<unknown> = (value, call) => elementsOf(value, call) ?? scalarOf(value)

/** A function, to be called alone. Anything else arrives as an `Unusable`, or as the value that it is. */
export const callback: Reader<unknown> = (value) =>
  typeof value === 'function' && !types.isProxy(value) ? value : scalarOf(value)

/** A value that is given back to the code it came from, and never looked at. */
export const own: Reader<unknown> = (value) => value

/** A message for people. @throws HookError hook/bad-argument for anything but text, a number or a boolean */
export const message: Reader<string> = (value, call) => {
  if (typeof value === 'string') return cut(value)
  if (typeof value === 'number' || typeof value === 'boolean') return String(value)
  throw new HookError('hook/bad-argument', { detail: `${call} takes its message as text, but got ${gotOf(scalarOf(value))}` })
}

const { isMapIterator, isSetIterator, isSet, isProxy } = types
const setValues = (set: unknown): Iterator<unknown> => Set.prototype.values.call(set)
const nextOf = (iterator: Iterator<unknown>): ((this: unknown) => IteratorResult<unknown>) => {
  // The intrinsic's own `next`, which an iterator of hook code may hide.
  const { next } = Object.getPrototypeOf(iterator) as { next: (this: unknown) => IteratorResult<unknown> }
  return next
}
const nextOfMap = nextOf(new Map().keys())
const nextOfSet = nextOf(new Set().keys())

/** The elements of a list, a set, or what `keys()` and `values()` of a map, a set or a look-up give. */
export const ids: Reader<unknown> = (value, call) => {
  if (typeof value !== 'object' || value === null || isProxy(value)) return scalarOf(value)
  const drained: unknown[] = []
  const drain = (from: unknown, next: (this: unknown) => IteratorResult<unknown>) => {
    for (let step = next.call(from); step.done !== true; step = next.call(from)) drained.push(scalarOf(step.value))
    return drained
  }
  if (isSet(value)) return drain(setValues(value), nextOfSet)
  if (isMapIterator(value)) return drain(value, nextOfMap)
  if (isSetIterator(value)) return drain(value, nextOfSet)
  return elementsOf(value, call)?.map(scalarOf) ?? scalarOf(value)
}

const BAD_MESSAGE = 'takes text, numbers, true, false, null, and lists and objects of them'

/** What JSON can hold, as JSON. A `Date` becomes ISO text, and undefined parts of objects are left out. @throws HookError hook/bad-argument */
export const json: Reader<string | undefined> = (value, call) => {
  const copied = dataOf(value, call, { dates: true })
  checkJson(copied, call, '')
  const text = JSON.stringify(copied)
  if (text !== undefined && text.length > LONGEST_TEXT)
    throw new HookError('hook/bad-argument', {
      detail: `${call} was given ${text.length} characters as JSON, but takes at most ${LONGEST_TEXT}`,
    })
  return text
}

function checkJson(value: unknown, call: string, path: string): void {
  if (value === null || typeof value === 'string' || typeof value === 'boolean' || value === undefined) return
  if (typeof value === 'number' && Number.isFinite(value)) return
  if (typeof value === 'object' && gotOf(value) === 'a list')
    return (value as unknown[]).forEach((each, at) => checkJson(each, call, `${path}[${at}]`))
  if (typeof value === 'object' && gotOf(value) === 'an object')
    return Object.entries(value).forEach(([key, each]) => checkJson(each, call, path === '' ? key : `${path}.${key}`))
  throw new HookError('hook/bad-argument', {
    detail: `${call} ${BAD_MESSAGE}, but ${path === '' ? 'got' : `${path} is`} ${gotOf(value)}`,
  })
}

/**
 * What a test compares: it is handed on as it is, since what it is made of is what the test is about, but only where comparing it
 * cannot be led astray. @throws HookError hook/bad-argument for a proxy or a computed property, at any depth
 */
export const compared: Reader<unknown> = (value, call) => {
  checkCompared(value, call, new Set(), 0)
  return value
}

/** Objects that are looked into; what lies deeper is compared by the library within the budget of the test. */
const MOST_COMPARED = 200_000

function checkCompared(value: unknown, call: string, seen: Set<object>, depth: number): void {
  if ((typeof value !== 'object' && typeof value !== 'function') || value === null || seen.has(value)) return
  const refuse = (what: string) =>
    new HookError('hook/bad-argument', { detail: `${call} was given ${what}, which cannot be compared` })
  if (isProxy(value)) throw refuse('a proxy')
  // What a test compares of a function is which one it is, and what it throws.
  if (typeof value === 'function') return
  if (seen.size >= MOST_COMPARED || depth > 500) throw refuse('a value that is too large or too deep')
  seen.add(value)
  // An error's stack may be an accessor of the language's own.
  for (const [key, property] of Object.entries(Object.getOwnPropertyDescriptors(value) as Record<string, PropertyDescriptor>))
    if ('value' in property) checkCompared(property.value, call, seen, depth + 1)
    else if (!(key === 'stack' && types.isNativeError(value))) throw refuse(`the computed property ${key}`)
  if (types.isMap(value))
    mapForEach(value, (item, key) => [item, key].forEach((each) => checkCompared(each, call, seen, depth + 1)))
  if (isSet(value)) for (const item of { [Symbol.iterator]: () => setValues(value) }) checkCompared(item, call, seen, depth + 1)
}
const mapForEach = (map: unknown, each: (item: unknown, key: unknown) => void): void => Map.prototype.forEach.call(map, each)

/** The parts of a definition: texts, functions, and lists of texts. */
export const definition: Reader<unknown> = (value, call) => {
  if (typeof value !== 'object' || value === null || isProxy(value) || elementsOf(value, call) !== null) return scalarOf(value)
  const parts: Record<string, unknown> = {}
  for (const key of Reflect.ownKeys(value)) {
    const property = Object.getOwnPropertyDescriptor(value, key)!
    const part: unknown = 'value' in property ? property.value : new Unusable('a computed property')
    const copy = typeof part === 'function' ? callback(part, call) : dataOf(part, call)
    Object.defineProperty(parts, String(key), { value: copy, enumerable: true })
  }
  return parts
}
