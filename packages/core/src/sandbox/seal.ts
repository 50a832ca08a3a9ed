import { types } from 'node:util'

/** Freezes what a module could keep something in. Runs no code of it. */

const { getOwnPropertyDescriptors, getPrototypeOf, isFrozen, freeze } = Object

/** Values of own properties that are stored. */
const stored = (value: object): unknown[] =>
  Object.values(getOwnPropertyDescriptors(value) as Record<string, PropertyDescriptor>).flatMap((each) =>
    'value' in each ? [each.value as unknown] : [each.get, each.set],
  )

const isPlain = (value: object): boolean => {
  if (Array.isArray(value)) return true
  const prototype: unknown = getPrototypeOf(value)
  return prototype === Object.prototype || prototype === null
}

/** A function with its prototype and what both hold themselves: static functions, and the methods of a class. */
function freezeFunction(made: object): void {
  if (isFrozen(made)) return
  freeze(made)
  for (const part of stored(made)) {
    if (typeof part === 'function' && !types.isProxy(part)) freezeFunction(part)
    else if (part !== null && typeof part === 'object' && !types.isProxy(part) && !isFrozen(part)) {
      freeze(part)
      for (const method of stored(part)) if (typeof method === 'function' && !types.isProxy(method)) freezeFunction(method)
    }
  }
}

/** Freezes functions and patterns that the values are, or hold in lists, plain objects, maps and sets; these stay as they are. */
export function sealFunctionsOf(values: readonly unknown[]): void {
  const seen = new Set<unknown>()
  const look = (value: unknown): void => {
    if (value === null || (typeof value !== 'object' && typeof value !== 'function')) return
    if (types.isProxy(value) || seen.has(value)) return
    seen.add(value)
    if (typeof value === 'function') freezeFunction(value)
    else if (types.isRegExp(value)) freeze(value)
    else if (types.isMap(value)) Map.prototype.forEach.call(value, (item, key) => [item, key].forEach(look))
    else if (types.isSet(value)) Set.prototype.forEach.call(value, look)
    else if (isPlain(value)) stored(value).forEach(look)
  }
  values.forEach(look)
}

/** Freezes functions and patterns, and plain lists and objects with what they hold. */
export function freezePlain(value: unknown): void {
  if (value === null || (typeof value !== 'object' && typeof value !== 'function') || types.isProxy(value)) return
  if (typeof value === 'function') return freezeFunction(value)
  if (types.isRegExp(value)) return void freeze(value)
  if (isFrozen(value)) return sealFunctionsOf([value])
  if (!isPlain(value)) return
  freeze(value)
  stored(value).forEach(freezePlain)
}
