import { quote } from '../model/ddl.js'
import type { Project, Table } from '../model/types.js'
import type { Store } from '../store/database.js'
import type { Series } from './backfilling.js'
import type { Hook } from './hook.js'
import type { SaveRow } from './row.js'

/** The next numbers of series, without those that records have already in some columns. */

/** Numbers that are looked up at a time, at first and at most. */
const AHEAD = { first: 50, most: 5000 }
const NONE: ReadonlySet<string> = new Set()

export interface Column {
  table: string
  field: string
}

const filled = new WeakMap<Hook, readonly Column[]>()

/**
 * Unique fields that a hook may fill with numbers of series: those that it writes in its table; where it makes other records, those of
 * tables that its code names.
 */
export function filledBy(project: Project, hook: Hook): readonly Column[] {
  let columns = filled.get(hook)
  if (!columns) {
    const code = project.files.get(hook.file) ?? ''
    const isNamed = ({ name }: Table) => hook.moment === 'after-save' && code.includes(`'${name}'`)
    columns = [...project.tables.values()].flatMap((table) =>
      table.fields
        .filter(({ unique, type, link }) => unique && type === 'string' && !link)
        .filter(({ name }) =>
          table.name === hook.table && hook.moment !== 'after-save' ? (hook.writes?.includes(name) ?? true) : isNamed(table),
        )
        .map(({ name }) => ({ table: table.name, field: name })),
    )
    filled.set(hook, columns)
  }
  return columns
}

/** Numbers that were looked up: all from the first to the last as texts, or those of a list. */
interface Window {
  ends: readonly [string, string] | null
  list: ReadonlySet<string> | null
  taken: ReadonlySet<string>
  size: number
}

export class FreeNumbers {
  readonly #windows = new Map<string, Window>()
  readonly #columns: { isBetween: string; among: string }[]
  /** Rows of the batch at work, and what they have in these columns: it is not written yet. */
  #rows: readonly SaveRow[] = []
  #typed: ReadonlySet<unknown> = NONE

  constructor(
    private readonly store: Store,
    private readonly columns: readonly Column[],
  ) {
    this.#columns = columns.map(({ table, field }) => {
      const [from, column] = [quote(table), quote(field)]
      return {
        isBetween: `SELECT EXISTS (SELECT 1 FROM ${from} WHERE ${column} BETWEEN ? AND ?)`,
        among: `SELECT ${column} FROM ${from} WHERE ${column} IN (SELECT value FROM json_each(?))`,
      }
    })
  }

  /** Was a number passed by that a record has already? */
  passedBy = false

  /** What was looked up may no longer hold. */
  forget(): void {
    this.passedBy = false
    this.#windows.clear()
  }

  /** The rows that numbers are for. */
  within(rows: readonly SaveRow[]): void {
    if (rows === this.#rows) return
    this.#rows = rows
    this.forget()
    const fields = this.columns.filter(({ table }) => table === rows[0]?.shape.table.name).map(({ field }) => field)
    this.#typed = fields.length === 0 ? NONE : new Set(rows.flatMap(({ now }) => fields.map((field) => now?.[field])))
  }

  /** @throws HookError hook/unknown-sequence */
  take(sequence: string, series: Series): string {
    for (;;) {
      const number = series.next(sequence)
      if (this.#columns.length === 0) return number
      let window = this.#windows.get(sequence)
      if (!window || !covers(window, number)) {
        window = this.#look(number, sequence, series, window ? Math.min(AHEAD.most, 4 * window.size) : AHEAD.first)
        this.#windows.set(sequence, window)
      }
      if (!window.taken.has(number) && !this.#typed.has(number)) return number
      this.passedBy = true
    }
  }

  /** Which of this number and the ones after it records have. Mostly there is none between the first and the last of them. */
  #look(number: string, sequence: string, series: Series, size: number): Window {
    const [, last] = series.ends(sequence, size) ?? []
    const ends = last !== undefined && last.length === number.length ? ([number, last] as const) : null
    const columns = this.#columns.filter(({ isBetween }) => !ends || this.store.one(isBetween, ...ends) === 1)
    if (columns.length === 0) return { ends, list: null, taken: NONE, size }
    const list = new Set([number, ...series.ahead(sequence, size)])
    const asked = JSON.stringify([...list])
    return { ends: null, list, taken: new Set(columns.flatMap(({ among }) => this.store.values(among, asked) as string[])), size }
  }
}

const covers = ({ ends, list }: Window, number: string): boolean =>
  ends ? number.length === ends[0].length && number >= ends[0] && number <= ends[1] : (list?.has(number) ?? false)
