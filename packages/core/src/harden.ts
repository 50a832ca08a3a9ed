/** What is handed to hook code cannot be changed by it. */

/** Hides the class behind its instances, and freezes what they have in common. */
export function sealClass(made: { prototype: object }): void {
  delete (made.prototype as { constructor?: unknown }).constructor
  Object.freeze(made.prototype)
}

/** An object of functions: frozen, and each function too. */
export function sealFunctions<T extends object>(made: T): Readonly<T> {
  for (const each of Object.values(made)) if (typeof each === 'function') Object.freeze(each)
  return Object.freeze(made)
}
