import type { RecordValues, Value } from '../model/types.js'
import { cut } from '../text.js'
import type { LogLine, Lookup, RowOut, Sent, Verdict } from './types.js'

/** What is reported about a save afterwards: verdicts, look-ups, log lines, messages, rows. */

/** Log lines that a save keeps, and characters of one. */
const MOST_LINES = 1000
const LONGEST_LINE = 10_000

/** A hook may be named like what every object has, such as `constructor`. */
const byName = (): Record<string, number> => Object.create(null) as Record<string, number>

export class Notes {
  readonly verdicts: Verdict[] = []
  readonly lookups: Lookup[] = []
  readonly logs: LogLine[] = []
  readonly sent: (Sent & { cause: string; message: Value })[] = []
  readonly rows: RowOut[] = []
  /** Rows for which each hook ran. */
  readonly ran = byName()
  /** Milliseconds of each hook: its guard, load, each and finish. */
  readonly took = byName()
  /** By record: what was typed into its fields in this save. */
  readonly #typed = new Map<string, RecordValues>()
  /** Numbers given by sequences in this save. */
  readonly numbers = new Set<string>()

  typed(table: string, id: number, values: RecordValues): void {
    this.#typed.set(`${table} ${id}`, values)
  }

  typedOf(table: string, id: number): RecordValues | undefined {
    return this.#typed.get(`${table} ${id}`)
  }

  countRuns(hook: string, rows: number): void {
    this.ran[hook] = (this.ran[hook] ?? 0) + rows
  }

  countTime(hook: string, ms: number): void {
    this.took[hook] = (this.took[hook] ?? 0) + ms
  }

  log(line: LogLine): void {
    if (this.logs.length < MOST_LINES) this.logs.push({ ...line, text: cut(line.text, LONGEST_LINE) })
    else if (this.logs.length === MOST_LINES)
      this.logs.push({ ...line, text: `(more than ${MOST_LINES} lines: the rest is left out)` })
  }
}
