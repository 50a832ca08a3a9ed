import type { BackfillWish, Value } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import { quote } from '../model/ddl.js'
import { gotOf } from '../model/values.js'
import type { Series } from '../save/backfilling.js'
import { BY_BACKFILL } from '../save/program.js'
import type { SaveRow } from '../save/row.js'
import type { Store } from '../store/database.js'

/** Numbers for records that are there already: from one series or one by kind, never one that another record has. */

/** Numbers that are looked up at a time. */
const AHEAD = 5000
const NONE: ReadonlySet<string> = new Set()

export class Numbering {
  /** By sequence: numbers that records have already, among those that were looked up; and how many looked-up ones are left. */
  readonly #ahead = new Map<string, { taken: ReadonlySet<string>; left: number }>()
  readonly #given = new Map<string, { first: string; last: string; count: number }>()
  readonly #isBetween: string
  readonly #among: string

  constructor(
    private readonly store: Store,
    private readonly wish: NonNullable<BackfillWish['number']>,
    private readonly table: string,
  ) {
    const column = quote(wish.field)
    this.#isBetween = `SELECT EXISTS (SELECT 1 FROM ${quote(table)} WHERE ${column} BETWEEN ? AND ?)`
    this.#among = `SELECT ${column} FROM ${quote(table)} WHERE ${column} IN (SELECT value FROM json_each(?))`
  }

  /** Was a number passed by that a record has already? Records before this one may have given it up when it is looked up later. */
  passedBy = false

  /** What was given, by sequence. */
  get given(): ReadonlyMap<string, { first: string; last: string; count: number }> {
    return this.#given
  }

  /** A rolled back pass gave nothing, and what it had looked up is looked up anew. */
  begin(): void {
    this.passedBy = false
    this.#ahead.clear()
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
    let number: string
    for (;;) {
      let window = this.#ahead.get(sequence)
      if (!window || window.left === 0) {
        window = { taken: this.#taken(sequence, series), left: AHEAD }
        this.#ahead.set(sequence, window)
      }
      window.left--
      number = series.next(sequence)
      if (!window.taken.has(number)) break
      this.passedBy = true
    }
    const given = this.#given.get(sequence)
    if (given) {
      given.last = number
      given.count++
    } else this.#given.set(sequence, { first: number, last: number, count: 1 })
    return number
  }

  /** Which of the next numbers records have. Mostly there is none between the first and the last of them. */
  #taken(sequence: string, { ends, ahead }: Series): ReadonlySet<string> {
    const between = ends(sequence, AHEAD)
    if (between && this.store.one(this.#isBetween, ...between) === 0) return NONE
    return new Set(this.store.values(this.#among, JSON.stringify(ahead(sequence, AHEAD))) as string[])
  }
}
