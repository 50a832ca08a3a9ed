import type { BackfillWish, Value } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import { gotOf } from '../model/values.js'
import type { Series } from '../save/backfilling.js'
import { FreeNumbers } from '../save/free-numbers.js'
import { BY_BACKFILL } from '../save/program.js'
import type { SaveRow } from '../save/row.js'
import type { Store } from '../store/database.js'

/** Numbers for existing records: from one series or one by kind, never one that another record has. */

export class Numbering {
  readonly #free: FreeNumbers
  readonly #given = new Map<string, { first: string; last: string; count: number }>()

  constructor(
    store: Store,
    private readonly wish: NonNullable<BackfillWish['number']>,
    private readonly table: string,
  ) {
    this.#free = new FreeNumbers(store, [{ table, field: wish.field }])
  }

  /** Was a number passed by that a record has already? Records before this one may have given it up when it is looked up later. */
  get passedBy(): boolean {
    return this.#free.passedBy
  }

  /** What was given, by sequence. */
  get given(): ReadonlyMap<string, { first: string; last: string; count: number }> {
    return this.#given
  }

  /** A rolled back pass gave nothing, and what it had looked up is looked up again. */
  begin(): void {
    this.#free.forget()
    this.#given.clear()
  }

  /** The field by whose value a record gets its series; null where all have the same. */
  get by(): string | null {
    const { series } = this.wish
    return typeof series === 'string' ? null : series.by
  }

  /** @throws HookError backfill/no-series, which refuses the row */
  number(row: SaveRow, series: Series): void {
    const now = row.now!
    const { field } = this.wish
    now[field] = this.take(this.by === null ? null : now[this.by]!, series)
    row.by[field] = BY_BACKFILL
  }

  /** The next number for a record whose value in `by` is this. @throws HookError backfill/no-series */
  take(kind: Value, series: Series): string {
    const { series: of } = this.wish
    const sequence = typeof of === 'string' ? of : of.of[String(kind)]
    if (sequence === undefined) throw new HookError('backfill/no-series', { table: this.table, field: this.by, got: gotOf(kind) })
    const number = this.#free.take(sequence, series)
    const given = this.#given.get(sequence)
    if (given) {
      given.last = number
      given.count++
    } else this.#given.set(sequence, { first: number, last: number, count: 1 })
    return number
  }
}
