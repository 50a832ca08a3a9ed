import { sealClass } from '../harden.js'

/** What a look-up found, by id: a map that nobody can change, since all rows of a batch are given the same one. */
export class Found<V> implements Iterable<[number, V]> {
  readonly #entries: ReadonlyMap<number, V>

  constructor(entries: ReadonlyMap<number, V>) {
    this.#entries = entries
    Object.freeze(this)
  }

  get size(): number {
    return this.#entries.size
  }
  /** Nothing for null, and for an id that is not there. */
  get(id: number): V | undefined {
    return this.#entries.get(id)
  }
  has(id: number): boolean {
    return this.#entries.has(id)
  }
  keys(): IterableIterator<number> {
    return this.#entries.keys()
  }
  values(): IterableIterator<V> {
    return this.#entries.values()
  }
  entries(): IterableIterator<[number, V]> {
    return this.#entries.entries()
  }
  [Symbol.iterator](): IterableIterator<[number, V]> {
    return this.#entries[Symbol.iterator]()
  }
  forEach(each: (value: V, id: number) => void): void {
    this.#entries.forEach((value, id) => each(value, id))
  }
}
sealClass(Found)
