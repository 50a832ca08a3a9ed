import { HookError } from '../errors.js'
import { sealClassWith } from '../harden.js'
import { gotOf } from '../model/values.js'
import { entry } from './entry.js'
import { callback, scalar } from './readers.js'

/** What a look-up found, by id: a map that nobody can change, since all rows of a batch are given the same one. */
export class Found<V> implements Iterable<[number, V]> {
  readonly #entries: ReadonlyMap<number, V>
  /** Undefined for null, and for an id that was not found. */
  declare readonly get: (id: number) => V | undefined
  declare readonly has: (id: number) => boolean
  declare readonly keys: () => IterableIterator<number>
  declare readonly values: () => IterableIterator<V>
  declare readonly entries: () => IterableIterator<[number, V]>
  declare readonly [Symbol.iterator]: () => IterableIterator<[number, V]>
  declare readonly forEach: (each: (value: V, id: number) => void) => void

  constructor(entries: ReadonlyMap<number, V>) {
    this.#entries = entries
    Object.freeze(this)
  }

  get size(): number {
    return this.#entries.size
  }

  /** The entries of a look-up; null for any other value. Runs no code of the value. */
  static entriesOf(value: object): IterableIterator<[number, unknown]> | null {
    return #entries in value ? (value as Found<unknown>).#entries.entries() : null
  }

  static {
    const entries = entry('found.entries', [], function (this: Found<unknown>) {
      return this.#entries.entries()
    })
    sealClassWith(Found, {
      get: entry('found.get', [scalar], function (this: Found<unknown>, id) {
        return this.#entries.get(id as number)
      }),
      has: entry('found.has', [scalar], function (this: Found<unknown>, id) {
        return this.#entries.has(id as number)
      }),
      keys: entry('found.keys', [], function (this: Found<unknown>) {
        return this.#entries.keys()
      }),
      values: entry('found.values', [], function (this: Found<unknown>) {
        return this.#entries.values()
      }),
      entries,
      [Symbol.iterator]: entries,
      forEach: entry('found.forEach', [callback], function (this: Found<unknown>, each) {
        if (typeof each !== 'function')
          throw new HookError('hook/bad-argument', { detail: `forEach takes a function, but got ${gotOf(each)}` })
        for (const [id, value] of this.#entries) (each as (value: unknown, id: number) => void)(value, id)
      }),
    })
  }
}
