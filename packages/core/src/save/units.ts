import { HookError } from '../errors.js'
import { HookSet } from './origin.js'
import type { LevelInput } from './level-input.js'
import { checkInput } from './typed.js'
import type { InputRow } from './types.js'

/**
 * The input of a save cut into units and batches. Rows that link to each other by `ref` are one unit: a document, which
 * is saved or refused as a whole. Any other row is a unit alone, and nothing is kept for it before its batch comes.
 */
export class Units {
  readonly #inputs: readonly InputRow[]
  /** Rows by unit, for documents; null where every row stands alone. */
  readonly #documents: readonly (readonly number[])[] | null
  readonly #unitOf: readonly number[] | null
  readonly #nobody = HookSet.empty()

  /** @throws HookError save/bad-input */
  constructor(inputs: readonly InputRow[]) {
    let named = false
    this.#inputs = inputs.map((input, index) => {
      const checked = checkInput(input, index + 1)
      named ||= checked.as !== undefined
      return checked
    })
    this.#documents = named ? this.#group() : null
    const unitOf: number[] = []
    this.#documents?.forEach((rows, unit) => rows.forEach((index) => (unitOf[index] = unit)))
    this.#unitOf = this.#documents ? unitOf : null
  }

  /** The rows as they were given. */
  get inputs(): readonly InputRow[] {
    return this.#inputs
  }

  /** Rows of the input, counted. */
  get rows(): number {
    return this.#inputs.length
  }

  /** Units, counted. */
  get count(): number {
    return this.#documents?.length ?? this.#inputs.length
  }

  rowsOf(unit: number): readonly number[] {
    return (this.#documents?.[unit] ?? [unit]).map((index) => index + 1)
  }

  /** The unit of a typed row. */
  unitOf(row: number): number {
    return this.#unitOf ? this.#unitOf[row - 1]! : row - 1
  }

  tableOf(row: number): string {
    return this.#inputs[row - 1]!.table
  }

  /** How many batches there are at most. */
  batchCount(size: number): number {
    return Math.ceil(this.#inputs.length / size)
  }

  /** Batches of at least `size` rows that cut through no document, without the units that were dropped. */
  *batches(size: number, dropped: ReadonlySet<number>): Generator<LevelInput[]> {
    let batch: LevelInput[] = []
    for (let unit = 0; unit < this.count; unit++) {
      if (dropped.has(unit)) continue
      for (const index of this.#documents?.[unit] ?? [unit]) {
        const { table, values, as, copyOf, remove, expect } = this.#inputs[index]!
        const origin = { rows: [index + 1], hooks: this.#nobody }
        batch.push({ table, values, as, copyOf, remove, expect, row: index + 1, origin, fresh: undefined })
      }
      if (batch.length < size) continue
      yield batch
      batch = []
    }
    if (batch.length > 0) yield batch
  }

  #group(): number[][] {
    const inputs = this.#inputs
    const named = new Map<string, number>()
    inputs.forEach(({ as }, index) => {
      if (as === undefined) return
      if (named.has(as))
        throw new HookError('save/bad-input', { row: index + 1, detail: `row ${index + 1}: the name '${as}' is given twice` })
      named.set(as, index)
    })
    // Union-find over the rows; the head of a unit is its first row.
    const head = inputs.map((_, index) => index)
    const find = (index: number): number => {
      while (head[index] !== index) index = head[index] = head[head[index]!]!
      return index
    }
    inputs.forEach((input, index) => {
      for (const value of Object.values(input.values ?? {})) {
        const other = value !== null && typeof value === 'object' ? named.get(value.ref) : undefined
        if (other === undefined) continue
        const [first, second] = [find(index), find(other)].sort((a, b) => a - b) as [number, number]
        head[second] = first
      }
    })
    const units = new Map<number, number[]>()
    inputs.forEach((_, index) => {
      const unit = units.get(find(index))
      if (unit) unit.push(index)
      else units.set(find(index), [index])
    })
    return [...units.values()]
  }
}
