import { types } from 'node:util'
import { Found } from './found.js'

/** Values of hook code as plain JSON, bounded, without running any code of them. */

/** Items of a list or parts of an object that are told, characters of a text, and how deep it is looked. */
const MOST = 100
const LONGEST = 2000
const DEEPEST = 6

/** @returns what JSON can hold; what it cannot, in words */
export function plainValue(value: unknown, depth = 0): unknown {
  if (typeof value === 'string') return value.length > LONGEST ? `${value.slice(0, LONGEST)}…` : value
  if (value === null || typeof value === 'boolean') return value
  if (typeof value === 'number') return Number.isFinite(value) ? value : String(value)
  if (value === undefined) return null
  if (typeof value === 'bigint') return `${value}n`
  if (typeof value !== 'object') return `a ${typeof value}`
  if (types.isProxy(value)) return 'a proxy'
  if (depth >= DEEPEST) return Array.isArray(value) ? 'a list' : 'an object'
  try {
    if (Array.isArray(value)) return value.slice(0, MOST).map((item) => plainValue(item, depth + 1))
    if (types.isDate(value))
      return Number.isNaN(Date.prototype.getTime.call(value)) ? 'no valid date' : Date.prototype.toISOString.call(value)
    if (types.isRegExp(value)) return String(value)
    if (value instanceof Found) return [...value.entries()].slice(0, MOST).map((pair) => plainValue(pair, depth + 1))
    if (types.isMap(value))
      return [...Map.prototype.entries.call(value)].slice(0, MOST).map((pair) => plainValue(pair, depth + 1))
    if (types.isSet(value)) return [...Set.prototype.values.call(value)].slice(0, MOST).map((item) => plainValue(item, depth + 1))
    return plainValues(value, depth)
  } catch {
    return 'an object'
  }
}

/** The same of the own parts of an object. */
export function plainValues(value: object, depth = 0): Record<string, unknown> {
  const own = Object.entries(Object.getOwnPropertyDescriptors(value)).filter(([, each]) => 'value' in each && each.enumerable)
  return Object.fromEntries(own.slice(0, MOST).map(([key, each]) => [key, plainValue(each.value, depth + 1)]))
}
