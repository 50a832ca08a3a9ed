import { isEntry } from './entry/entry.js'

/** What is handed to hook code cannot be changed by it, and each function of it reads its arguments through the gate (entry/). */

/** @throws Error where a function was not made by the gate: a mistake of ours, found as soon as the module is loaded */
function checkEntry(name: string, value: unknown): void {
  if (typeof value === 'function' && !isEntry(value))
    throw new Error(`${name} is handed to hook code, but is no entry: make it with entry(…)`)
}

/** Hides the class behind its instances, and freezes what they have in common. */
export function sealClass(sealed: { prototype: object }): void {
  delete (sealed.prototype as { constructor?: unknown }).constructor
  for (const [name, { value }] of Object.entries(Object.getOwnPropertyDescriptors(sealed.prototype))) checkEntry(name, value)
  Object.freeze(sealed.prototype)
}

/** Gives a class the functions that its instances have in common, and seals it. */
export function sealClassWith(sealed: { prototype: object }, functions: Record<PropertyKey, unknown>): void {
  for (const key of Reflect.ownKeys(functions))
    Object.defineProperty(sealed.prototype, key, { value: functions[key], configurable: true })
  sealClass(sealed)
}

/** An object of functions: frozen, and each function too. */
export function sealFunctions<T extends object>(functions: T): Readonly<T> {
  for (const [name, value] of Object.entries(functions)) checkEntry(name, value)
  return Object.freeze(functions)
}
