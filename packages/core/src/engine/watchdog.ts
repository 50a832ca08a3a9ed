import { report, type ErrorReport } from '../errors.js'
import { AT_WORK, CELL, readPlace, type Numbered } from '../watch.js'
import type { EngineLimits } from './protocol.js'

/**
 * Watches the engine's thread by the cells that both share: a hook, a test or a pattern that shows no sign of life for too long is
 * to be stopped, and anyone who was at work is named.
 */
export class Watchdog {
  readonly #names: Record<Numbered, string[]> = { module: [], hook: [], table: [], field: [] }
  #mark = ''
  #since = 0

  constructor(
    private readonly cells: Int32Array,
    private readonly limits: EngineLimits,
  ) {}

  named(kind: Numbered, first: number, names: readonly string[]): void {
    for (const [at, name] of names.entries()) this.#names[kind][first + at] = name
  }

  /** A call begins. @param now a monotonic time in milliseconds */
  begin(now: number): void {
    this.#mark = ''
    this.#since = now
    this.cells[CELL.cancel] = 0
  }

  /** Has the thread moved since the last look? SQLite at work is given more time, the caller it. */
  look(now: number): ErrorReport | null {
    const { cells } = this
    // That hook code goes from line to line is no sign of life: a loop of slow built-in calls does, too.
    const mark = [cells[CELL.pulse], cells[CELL.row], cells[CELL.id], cells[CELL.hook]].join(' ')
    const asks = cells[CELL.inQuery] === 1
    if ((cells[CELL.hook] === 0 && !asks) || mark !== this.#mark) {
      this.#mark = mark
      this.#since = now
      return null
    }
    const idle = now - this.#since
    if (asks) return idle >= this.#queryMs ? this.asked() : null
    return idle >= this.limits.stallMs ? this.stopped() : null
  }

  stopped(): ErrorReport {
    const { cells } = this
    if (cells[CELL.hook] !== AT_WORK.pattern) return report('budget/stopped', { ...this.#at(), limit: this.limits.stallMs })
    const [table, field] = (this.#names.field[cells[CELL.field]!] ?? '').split('.')
    return report('check/pattern-stopped', { ...this.#row(), table, field, limit: this.limits.stallMs })
  }

  /** What a hook asks holds up the save, and all that wait for it. */
  get #queryMs(): number {
    const { queryMs, stallMs } = this.limits
    return this.cells[CELL.hook] === 0 ? queryMs : Math.min(queryMs, 2 * stallMs)
  }

  /** A statement took too long. */
  asked(): ErrorReport {
    return report('budget/query-stopped', { ...this.#at(), ...this.#row(), limit: this.#queryMs })
  }

  memory(): ErrorReport {
    return report('budget/memory', { ...this.#at(), limit: this.limits.memoryMb })
  }

  #row(): { table?: string; row?: number; id?: number } {
    const { cells } = this
    return {
      table: this.#names.table[cells[CELL.table]!],
      row: cells[CELL.row] || undefined,
      id: cells[CELL.id] || undefined,
    }
  }

  /** Hook, file, line and row that are at work. */
  #at(): Record<string, unknown> {
    const { cells } = this
    const who = cells[CELL.hook]!
    const { module, line } = readPlace(cells[CELL.place]!)
    const [hook, hookFile] = who > 0 ? (this.#names.hook[who]?.split('\n') ?? []) : []
    const file = module > 0 ? this.#names.module[module] : undefined
    const at = file !== undefined && line > 0 ? { file, line } : { file: hookFile }
    return { hook, ...at, ...(who > 0 ? this.#row() : {}) }
  }
}
