/**
 * A map of which the keys are known and each value is made when it is first asked for. What making throws comes to the caller, each time.
 */
export class LateMap<K, V> extends Map<K, V> {
  readonly #make: ReadonlyMap<K, () => V>

  constructor(make: Iterable<readonly [K, () => V]>) {
    super()
    this.#make = new Map(make)
  }

  /** What was made already, without making it. */
  made(key: K): V | undefined {
    return super.get(key)
  }

  /** What makes the value of a key, for another map that shall have the same. */
  maker(key: K): (() => V) | undefined {
    return this.#make.get(key)
  }

  override get(key: K): V | undefined {
    const known = super.get(key)
    if (known !== undefined) return known
    const value = this.#make.get(key)?.()
    if (value !== undefined) super.set(key, value)
    return value
  }

  override has(key: K): boolean {
    return this.#make.has(key)
  }

  override get size(): number {
    // The constructor of Map asks before there is anything.
    return this.#make?.size ?? 0
  }

  override keys(): MapIterator<K> {
    return this.#make.keys()
  }

  override *values(): MapIterator<V> {
    for (const key of this.#make.keys()) yield this.get(key)!
  }

  override *entries(): MapIterator<[K, V]> {
    for (const key of this.#make.keys()) yield [key, this.get(key)!]
  }

  override [Symbol.iterator](): MapIterator<[K, V]> {
    return this.entries()
  }

  override forEach(tell: (value: V, key: K, map: Map<K, V>) => void): void {
    for (const [key, value] of this.entries()) tell(value, key, this)
  }
}
