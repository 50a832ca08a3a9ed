/**
 * Represents a value of hook code that was not copied, since looking into it could run code: a proxy, a computed property, a function,
 * a `Date`. Every check of types refuses it, and `gotOf` says what it was.
 */
export class Unusable {
  readonly #said: string

  /** @param said what it was, in words, such as `a proxy` */
  constructor(said: string) {
    this.#said = said
    Object.freeze(this)
  }

  /** What it was, in words; null for any other value. Runs no code of the value. */
  static saidOf(value: unknown): string | null {
    return typeof value === 'object' && value !== null && #said in value ? value.#said : null
  }
}
