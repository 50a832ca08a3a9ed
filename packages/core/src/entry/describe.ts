import { types } from 'node:util'
import { Unusable } from '../unusable.js'
import { Found } from './found.js'

/** Values of hook code in plain JSON that people can read, bounded, without running any code of them. */

/** Items of a list or parts of an object that are shown, characters of a text, and levels. */
const MOST = 100
const LONGEST = 2000
const DEEPEST = 6

const { getOwnPropertyDescriptor } = Object
const getterOf = (prototype: object, name: string) => getOwnPropertyDescriptor(prototype, name)!.get as (this: unknown) => unknown
const sourceOf = getterOf(RegExp.prototype, 'source')
const flagsOf = getterOf(RegExp.prototype, 'flags')
const sizeOfMap = getterOf(Map.prototype, 'size')
const sizeOfSet = getterOf(Set.prototype, 'size')

/** What a value holds, by its kind, read without running any code of it. */
export type Parts =
  | { kind: 'list' | 'set'; count: number; items: Iterable<unknown> }
  | { kind: 'map'; count: number; items: Iterable<readonly [unknown, unknown]> }
  | { kind: 'object'; count: number; items: Iterable<readonly [string, unknown]> }
  | { kind: 'words'; text: string }

/** @param value no proxy and no `Unusable` */
export function partsOf(value: object): Parts {
  if (Array.isArray(value)) return { kind: 'list', count: value.length, items: elements(value) }
  if (types.isDate(value)) return { kind: 'words', text: describeDate(value) }
  if (types.isRegExp(value)) return { kind: 'words', text: `/${String(sourceOf.call(value))}/${String(flagsOf.call(value))}` }
  const found = Found.entriesOf(value)
  if (found) return { kind: 'map', count: (value as Found<unknown>).size, items: found }
  if (types.isMap(value)) return { kind: 'map', count: sizeOfMap.call(value) as number, items: Map.prototype.entries.call(value) }
  if (types.isSet(value)) return { kind: 'set', count: sizeOfSet.call(value) as number, items: Set.prototype.values.call(value) }
  const own = Object.entries(Object.getOwnPropertyDescriptors(value)).filter(([, each]) => 'value' in each && each.enumerable)
  return { kind: 'object', count: own.length, items: own.map(([key, each]) => [key, each.value] as const) }
}

function* elements(list: readonly unknown[]): Generator<unknown> {
  for (let at = 0; at < list.length; at++) {
    const element = getOwnPropertyDescriptor(list, at)
    yield element && !('value' in element) ? new Unusable('a computed property') : element?.value
  }
}

const describeDate = (value: object): string =>
  Number.isNaN(Date.prototype.getTime.call(value)) ? 'an invalid Date' : Date.prototype.toISOString.call(value)

/** What cannot be looked into, in words; null for a list, a map, a set and an object. */
export function describeClosed(value: unknown): string | null {
  if (typeof value === 'bigint') return `${value}n`
  if (typeof value === 'function' || typeof value === 'symbol') return `a ${typeof value}`
  return types.isProxy(value) ? 'a proxy' : Unusable.saidOf(value)
}

/** @returns what JSON can hold; anything else in words */
export function describeValue(value: unknown, depth = 0): unknown {
  if (typeof value === 'string') return value.length > LONGEST ? `${value.slice(0, LONGEST)}…` : value
  if (value === null || typeof value === 'boolean') return value
  if (typeof value === 'number') return Number.isFinite(value) ? value : String(value)
  if (value === undefined) return null
  const closed = describeClosed(value)
  if (closed !== null) return closed
  try {
    const parts = partsOf(value as object)
    if (parts.kind === 'words') return parts.text
    if (depth >= DEEPEST) return parts.kind === 'list' ? 'a list' : 'an object'
    return parts.kind === 'object' ? describeObject(parts, depth) : describeList(parts, depth)
  } catch {
    return 'an object'
  }
}

function describeList({ count, items }: { count: number; items: Iterable<unknown> }, depth: number): unknown[] {
  const shown: unknown[] = []
  for (const item of items) {
    if (shown.length === MOST) return [...shown, `… ${count - MOST} more`]
    shown.push(describeValue(item, depth + 1))
  }
  return shown
}

function describeObject({ count, items }: Extract<Parts, { kind: 'object' }>, depth: number): Record<string, unknown> {
  const shown: [string, unknown][] = []
  for (const [key, item] of items) {
    if (shown.length === MOST) return Object.fromEntries([...shown, ['…', `${count - MOST} more`]])
    shown.push([key, describeValue(item, depth + 1)])
  }
  return Object.fromEntries(shown)
}

/** The same of the own parts of an object. @param value of ours */
export const describeParts = (value: object): Record<string, unknown> => describeValue(value) as Record<string, unknown>
