import { HookError, report, type ErrorReport } from '../errors.js'
import { fieldHint } from '../model/names.js'
import type { Field, Project, RecordValues } from '../model/types.js'
import type { Store } from '../store/database.js'
import { makeReads, type SaveReads } from '../store/reads.js'
import { existing } from '../store/records.js'
import type { Sequences } from '../store/sequences.js'
import { shapeOf } from '../store/shape.js'
import { CELL } from '../sandbox/meter.js'
import { expectedOf, fitsType, gotOf } from '../model/values.js'
import { Spending } from './budget.js'
import type { Hook, Program } from './program.js'
import { RowView, type RefusalSink, type SaveRow } from './row.js'
import type { LogLine, Lookup, RowOut, SaveOptions, SaveRecorder, Sent, Verdict } from './types.js'

/** A record's state before the save first touched it, for before-commit. */
export interface Touched {
  was: RecordValues | null
  roots: readonly number[]
  /** Woken for a child's sake only. */
  byChild: boolean
  /** 1-based row of the input, 0 for a ripple. */
  row: number
}

/** The state of one pass of a save: who is at work, what was spent, refused, sent and noted. */
export class Session implements RefusalSink {
  readonly spending: Spending
  readonly reads: SaveReads
  readonly #cells: Int32Array
  readonly #recorder: SaveRecorder | null
  /** Ids that are known to be there, by table: links are looked up once in a save. */
  readonly #present = new Map<string, Set<number>>()
  readonly refusals: ErrorReport[] = []
  /** Units of the input that a refusal stands against. */
  readonly refusedUnits = new Set<number>()
  readonly verdicts: Verdict[] = []
  readonly lookups: Lookup[] = []
  readonly logs: LogLine[] = []
  readonly sent: (Sent & { cause: string })[] = []
  readonly rows: RowOut[] = []
  readonly ran: Record<string, number> = {}
  /** Numbers given by sequences in this save. */
  readonly numbers = new Set<string>()
  readonly touched = new Map<string, Map<number, Touched>>()
  readonly deleted = new Map<string, Map<number, readonly number[]>>()
  /** Ids of the typed rows, by row of the input; kept only when records are to be given back. */
  readonly inputIds = new Map<number, number>()
  readonly live: ReadonlySet<string> | null
  readonly user: string
  readonly clock: string
  saveId = 0
  depth = 0
  /** The rows whose after-save hooks run: effects asked for in finish are theirs. */
  levelRows: readonly SaveRow[] = []
  /** The hooks that caused each level, for the budget's error. */
  readonly chain: string[] = []
  hook: Hook | null = null
  row: SaveRow | null = null
  phase: 'only' | 'load' | 'each' | 'finish' | null = null

  constructor(
    readonly project: Project,
    readonly program: Program,
    readonly store: Store,
    readonly sequences: Sequences,
    readonly options: SaveOptions & { history: boolean; recorder?: SaveRecorder },
    batches: number,
    /** Ids of new rows by row of the input: a partial save that goes on without refused rows gives the others the same. */
    readonly givenIds: Map<number, number>,
  ) {
    this.user = options.user ?? project.users[0]?.name ?? 'owner'
    this.clock = options.clock ?? new Date().toISOString()
    this.live = options.hooks ? new Set(options.hooks) : null
    this.#recorder = options.recorder ?? null
    this.#recorder?.begin()
    this.#cells = program.sandbox.cells
    const { cells, meter } = program.sandbox
    this.spending = new Spending(
      project,
      batches,
      meter,
      () => this.where(),
      () => {
        cells[CELL.pulse] = (cells[CELL.pulse]! + 1) | 0
      },
    )
    this.reads = makeReads(store, project, {
      query: () => {
        if (this.phase !== 'load' && this.phase !== 'finish')
          throw new HookError('hook/wrong-moment', {
            detail: 'store was used outside of load and finish: read for the whole batch in load',
          })
        this.spending.use('queries', 1)
        this.spending.time()
        cells[CELL.inQuery] = 1
        return Math.min(Number.MAX_SAFE_INTEGER, Math.floor(this.spending.limits.rowsRead - this.spending.spent.rowsRead) + 1)
      },
      rows: (count, call) => {
        cells[CELL.inQuery] = 0
        if (options.record) this.lookups.push({ hook: this.hook?.name ?? '', call, found: count, depth: this.depth })
        this.spending.use('rowsRead', count)
      },
    })
  }

  where() {
    const { hook, row } = this
    return {
      ...(hook ? { hook: hook.name, file: hook.file } : {}),
      ...(row ? { table: row.shape.table.name, row: row.row || undefined } : {}),
      chain: this.chain.join(' → '),
    }
  }

  /** Enters hook code: notes who is at work, for errors and for the thread that watches. */
  enter(hook: Hook, phase: NonNullable<Session['phase']>): void {
    this.hook = hook
    this.phase = phase
    this.row = null
    const { cells } = this.program.sandbox
    cells[CELL.place] = 0
    cells[CELL.hook] = hook.index + 1
    cells[CELL.row] = 0
    cells[CELL.id] = 0
    this.#pulse()
    this.#recorder?.enter(hook, phase)
  }

  /** The row that the hook is called for now; that the row changes is the sign of life. */
  at(row: SaveRow): void {
    this.row = row
    const cells = this.#cells
    cells[CELL.row] = row.row
    cells[CELL.id] = row.id
    this.#recorder?.row(row)
  }

  #pulse(): void {
    const { cells } = this.program.sandbox
    cells[CELL.pulse] = (cells[CELL.pulse]! + 1) | 0
  }

  leave(): void {
    this.#recorder?.leave()
    this.hook = null
    this.phase = null
    this.row = null
    this.program.sandbox.cells[CELL.hook] = 0
    this.program.sandbox.cells[CELL.inQuery] = 0
    if (this.spending.broken) throw this.program.sandbox.toHookError(this.spending.broken, {})
  }

  /** What hook code threw, as an error that names hook, file, line, and row. */
  hookError(error: unknown): HookError {
    const { hook, row, phase } = this
    const place = {
      hook: hook?.name,
      file: hook?.file,
      line: hook && phase ? hook.parts.get(phase) : undefined,
      ...(row ? { table: row.shape.table.name, row: row.row || undefined, id: row.id } : {}),
    }
    return this.program.sandbox.toHookError(error, place)
  }

  /** Puts an error against a row: the save fails, or goes on without that unit when partial. */
  against(row: SaveRow, error: ErrorReport): void {
    row.refused = true
    const place: Partial<ErrorReport> = { table: row.shape.table.name, id: row.event === 'create' ? (error.id ?? null) : row.id }
    if (row.row > 0) place.row = row.row
    this.refusals.push({ ...place, ...error })
    for (const root of row.roots) this.refusedUnits.add(root)
  }

  refuse(row: SaveRow, field: string | null, message: string): void {
    const { hook, phase } = this
    if (!hook || phase !== 'each' || hook.moment === 'after-save')
      throw new HookError('hook/wrong-moment', { detail: 'refuse belongs into each of a before-save or before-commit hook' })
    if (field !== null && field !== undefined && !row.shape.index.has(field)) void row.shape.empty(0)[field]
    const line = this.program.sandbox.placeOf(new Error('refused'))?.line ?? hook.parts.get('each')
    this.against(
      row,
      report('hook/refused', { hook: hook.name, file: hook.file, line, field: field ?? null, detail: String(message) }),
    )
  }

  viewOf(row: SaveRow): RowView {
    return (row.view ??= new RowView(row, row.now, this))
  }

  /** Which of these ids the table has. */
  present(table: string, ids: ReadonlySet<number>): ReadonlySet<number> {
    let known = this.#present.get(table)
    if (!known || known.size > 100_000) this.#present.set(table, (known = new Set()))
    const asked: number[] = []
    for (const id of ids) if (!known.has(id)) asked.push(id)
    if (asked.length > 0) for (const id of existing(this.store, table, asked)) known.add(id)
    return known
  }

  /** Records of the table were written or removed in this save. */
  wrote(table: string, removed: readonly { id: number }[]): void {
    this.reads.forget(table)
    const known = this.#present.get(table)
    if (known) for (const { id } of removed) known.delete(id)
  }

  /** Does anything at before-commit ask for the records of this table? */
  touches(table: string): boolean {
    return this.program.at(table, 'before-commit').length > 0 || this.program.touchedBy.has(table)
  }

  touch(row: SaveRow): void {
    const { name } = row.shape.table
    const { program } = this
    if (program.at(name, 'before-commit').length > 0)
      this.#noteTouch(name, row.id, { was: row.was, roots: row.roots, byChild: false, row: row.row })
    for (const { link, parent } of program.touchedBy.get(name) ?? [])
      for (const record of [row.was, row.now]) {
        const id = record?.[link]
        if (typeof id === 'number') this.#noteTouch(parent, id, { was: null, roots: row.roots, byChild: true, row: 0 })
      }
  }

  #noteTouch(table: string, id: number, touch: Touched): void {
    const ids = this.touched.get(table) ?? new Map<number, Touched>()
    this.touched.set(table, ids)
    const known = ids.get(id)
    if (!known) ids.set(id, touch)
    else {
      const roots = known.roots === touch.roots ? known.roots : [...new Set([...known.roots, ...touch.roots])]
      ids.set(id, known.byChild && !touch.byChild ? { ...touch, roots } : { ...known, roots })
    }
  }

  log(values: readonly unknown[]): void {
    const text = values.map((value) => (typeof value === 'string' ? value : (JSON.stringify(value) ?? String(value)))).join(' ')
    const { row } = this
    this.logs.push({ hook: this.hook?.name ?? '', table: row?.shape.table.name ?? '', id: row?.id ?? null, text })
  }

  /** Checks values that an effect asks for. @throws HookError */
  checkEffect(table: string, values: unknown, effect: 'update' | 'create', id?: number): void {
    const known = this.project.tables.get(table)
    if (!known) throw new HookError('project/unknown-table', { table })
    // Put together for an error only: effects come by the hundred thousand.
    const call = () => `${effect}('${table}'${id === undefined ? '' : `, ${id}`}, values)`
    if (values === null || typeof values !== 'object')
      throw new HookError('hook/bad-effect', { detail: `${call()} takes an object of values, but got ${gotOf(values)}` })
    const shape = shapeOf(known)
    for (const name of Object.keys(values)) {
      const value = (values as Record<string, unknown>)[name]
      const field = shape.fields[shape.index.get(name) ?? -1]
      if (!field) {
        if (name === 'id')
          throw new HookError('hook/bad-effect', { table, field: name, detail: `${call()}: the id of a record cannot be set` })
        throw new HookError('hook/unknown-field', { table, field: name, hint: fieldHint(name, known) })
      }
      if (!fitsType(field, value)) throw wrongType(table, field, value)
    }
  }
}

export function wrongType(table: string, field: Field, value: unknown): HookError {
  return new HookError('hook/wrong-type', { table, field: field.name, expected: expectedOf(field), got: gotOf(value) })
}
