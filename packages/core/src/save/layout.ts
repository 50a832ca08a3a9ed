import type { Shape, Take } from '../store/shape.js'
import type { InputRow } from './types.js'

/**
 * The fields that rows of one input set, in their order. Most set the same as the row before: their values are taken by code that is
 * made for those fields, from the second such row on.
 */
export class Layout {
  #names: readonly string[] = []
  /** Null where the fields have not come twice, undefined where one of them is none of the table. */
  #take: Take | null | undefined = null

  constructor(private readonly shape: Shape) {}

  /** @returns null where the row is to be taken field by field, as it also is where `take` says that it did nothing */
  takeOf(values: NonNullable<InputRow['values']>): Take | null {
    if (!this.#isSame(values)) {
      this.#names = namesOf(values)
      this.#take = null
      return null
    }
    if (this.#take === null) this.#take = this.#make()
    return this.#take ?? null
  }

  #isSame(values: object): boolean {
    const names = this.#names
    let count = 0
    for (const name in values) if (names[count++] !== name) return false
    return count === names.length
  }

  #make(): Take | undefined {
    const indexes: number[] = []
    for (const name of this.#names) {
      if (name === 'id') continue
      const index = this.shape.index.get(name)
      if (index === undefined) return undefined
      indexes.push(index)
    }
    return this.shape.take(indexes)
  }
}

/** As a loop over the fields comes by them. */
function namesOf(values: object): string[] {
  const names: string[] = []
  for (const name in values) names.push(name)
  return names
}
