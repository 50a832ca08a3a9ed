import { overflowed } from '../entry/entry.js'
import { HookError, report } from '../errors.js'
import { utcText } from '../model/dates.js'
import type { Project, RecordValues } from '../model/types.js'
import { gotOf } from '../model/values.js'
import { describeParts } from '../entry/describe.js'
import { cut } from '../text.js'
import type { Store } from '../store/database.js'
import { makeReads, type SaveReads } from '../store/reads.js'
import { existing, readByIds } from '../store/records.js'
import { shapeOf } from '../store/shape.js'
import type { Sequences } from '../store/sequences.js'
import type { Series } from './backfilling.js'
import { Spending } from './budget.js'
import { filledBy, FreeNumbers } from './free-numbers.js'
import type { Hook } from './hook.js'
import { Notes } from './notes.js'
import type { Program } from './program.js'
import { Refusals } from './refusals.js'
import { RowView, type RefusalSink, type SaveRow } from './row.js'
import type { SaveEnvironment } from './environment.js'
import { Stage } from './stage.js'
import { Touches } from './touches.js'
import { Trades } from './trades.js'
import type { InputRow, SaveOptions } from './types.js'
import type { Units } from './units.js'

/** Ids of a table that are known to be there. */
const MOST_KNOWN = 100_000

/** What the stations of one pass of a save share. */
export class Session implements RefusalSink {
  readonly stage: Stage
  readonly spending: Spending
  readonly reads: SaveReads
  readonly notes = new Notes()
  readonly refusals: Refusals
  readonly touches: Touches
  readonly trades: Trades
  /** Ids of the typed rows, by row of the input; kept only when records are to be given back. */
  readonly inputIds = new Map<number, number>()
  readonly live: ReadonlySet<string> | null
  readonly user: string
  readonly clock: string
  saveId = 0
  /** Of what `finish` asked for, which no single row represents: they hold where nothing is refused. */
  readonly conflicts: HookError[] = []
  /** By table: records that typed rows copy, where there is more than one batch. */
  readonly #sources = new Map<string, ReadonlyMap<number, RecordValues>>()
  /** By table: typed records that are changed or removed, each with its row of the input. */
  readonly #typedIds = new Map<string, Map<number, number>>()
  readonly #numbers = new Map<Hook, FreeNumbers>()
  /** Ids that are known to be there, by table: links are looked up once in a save. */
  readonly #present = new Map<string, Set<number>>()

  constructor(
    readonly project: Project,
    readonly program: Program,
    readonly store: Store,
    readonly sequences: Sequences,
    readonly options: SaveOptions & Pick<SaveEnvironment, 'recorder' | 'switches' | 'backfill'> & { history: boolean },
    readonly units: Units,
    /** Ids of new rows by row of the input: a partial save that goes on without refused rows gives the others the same. */
    readonly givenIds: Map<number, number>,
  ) {
    this.user = options.user ?? project.users[0]?.name ?? 'owner'
    this.clock = options.clock === undefined ? new Date().toISOString() : utcText(options.clock)!
    this.live = options.hooks ? new Set(options.hooks) : null
    this.stage = new Stage(program.sandbox, options.recorder ?? null)
    this.touches = new Touches(program)
    this.refusals = new Refusals((row) => units.unitOf(row), options.partial === true)
    this.trades = new Trades(store, this.refusals)
    this.spending = new Spending(project, units.batchCount(project.batchSize), program.sandbox.meter, () => this.stage.where())
    this.reads = this.#makeReads()
    overflowed()
  }

  #makeReads(): SaveReads {
    const { stage, spending, notes, options } = this
    return makeReads(this.store, this.project, {
      query: (isKnown) => {
        if (stage.phase !== 'load' && stage.phase !== 'finish')
          throw new HookError('hook/wrong-moment', {
            detail: 'store was used outside of load and finish: read for the whole batch in load',
          })
        // Rows that come in sequence, since they link to each other, ask for the same as one batch would at once.
        if (!isKnown || stage.generation === 0) spending.use('queries', 1)
        spending.time()
        return Math.min(Number.MAX_SAFE_INTEGER, Math.floor(spending.limits.rowsRead - spending.spent.rowsRead) + 1)
      },
      rows: (count, what) => {
        if (options.record) {
          // Told as plain values: what hook code asked with may be anything.
          const { asked, ...told } = what()
          const part = stage.phase === 'finish' ? 'finish' : 'load'
          notes.lookups.push({
            ...told,
            asked: describeParts(asked),
            hook: stage.hook?.name ?? '',
            part,
            found: count,
            depth: stage.depth,
          })
          stage.recorder?.lookup(notes.lookups.length - 1)
        }
        spending.use('rowsRead', count)
      },
      gone: (table) => (stage.deleting ? this.touches.removed.get(table) : undefined),
    })
  }

  /** Leaves hook code. @throws HookError of a budget that was passed, also where hook code swallowed it */
  leave(): void {
    this.checkWhole()
    this.stage.leave()
    if (this.spending.broken) throw this.program.sandbox.toHookError(this.spending.broken, {})
  }

  /** Hook code may have swallowed an error after which nothing more can be relied on. @throws HookError */
  checkWhole(): void {
    if (overflowed())
      this.spending.broken ??= this.stage.hookError(
        new HookError('hook/threw', { detail: 'the stack ended within a call of Patient Hook: the recursion has no end' }),
      )
    if (this.spending.broken) throw this.stage.hookError(this.spending.broken)
  }

  refuse(row: SaveRow, field: string | null, message: string): void {
    const { hook, phase } = this.stage
    if (!hook || phase !== 'each' || hook.moment === 'after-save')
      throw new HookError('hook/wrong-moment', { detail: 'refuse belongs into each of a before-save or before-commit hook' })
    // Also a field that was not read may be named.
    const shape = shapeOf(this.project.tables.get(row.shape.table.name)!)
    if (field !== null && field !== undefined && !shape.index.has(field))
      throw shape.unknown(typeof field === 'string' ? field : gotOf(field))
    const line = this.program.sandbox.caller()?.line ?? hook.parts.get('each')
    const detail = cut(message)
    this.stage.recorder?.refuse(field ?? null, detail)
    this.refusals.against(row, report('hook/refused', { hook: hook.name, file: hook.file, line, field: field ?? null, detail }))
  }

  /** Notes a record that a typed row makes, changes or removes. @returns the row of the input that did so before, if any */
  typedBefore(table: string, id: number, row: number): number | undefined {
    let ids = this.#typedIds.get(table)
    if (!ids) this.#typedIds.set(table, (ids = new Map()))
    const before = ids.get(id)
    if (before === undefined) ids.set(id, row)
    return before
  }

  /**
   * Reads the records that typed rows copy, as they are before the save: a copy does not depend on what an earlier batch did to its source.
   * @param inputs of the whole save
   */
  readSources(inputs: readonly InputRow[]): void {
    if (inputs.length <= this.project.batchSize) return
    const ids = new Map<string, number[]>()
    for (const { table, copyOf } of inputs) {
      if (copyOf === undefined) continue
      const list = ids.get(table)
      if (list) list.push(copyOf)
      else ids.set(table, [copyOf])
    }
    for (const [name, list] of ids) {
      const table = this.project.tables.get(name)
      if (table) this.#sources.set(name, readByIds(this.store, shapeOf(table), list))
    }
  }

  /** A record that is copied; undefined where it is to be read with the batch. */
  sourceOf(table: string, id: number): RecordValues | undefined {
    return this.#sources.get(table)?.get(id)
  }

  viewOf(row: SaveRow): RowView {
    return (row.view ??= new RowView(row, row.now, this))
  }

  /** Does the hook run for the rows of this level although they did not change? */
  wakes(hook: Hook): boolean {
    return this.stage.depth === 0 && (this.options.backfill?.wake.has(hook.name) ?? false)
  }

  /** Ids that are known to be in the table. */
  knownIn(table: string): Set<number> {
    let known = this.#present.get(table)
    if (!known) this.#present.set(table, (known = new Set()))
    return known
  }

  /** Which of these ids the table has. */
  present(table: string, ids: ReadonlySet<number>): ReadonlySet<number> {
    const known = this.knownIn(table)
    if (known.size > MOST_KNOWN) known.clear()
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

  readonly series: Series = {
    next: (sequence) => this.#nextOf(sequence),
    ahead: (sequence, count) => this.sequences.ahead(sequence, count),
    ends: (sequence, count) => this.sequences.ends(sequence, count),
  }

  /**
   * The next number of a series for the hook at work, which no record has in a unique field that the hook fills.
   * @throws HookError hook/unknown-sequence
   */
  next(sequence: string): string {
    const { hook, rows } = this.stage
    if (!hook) return this.#nextOf(sequence)
    let numbers = this.#numbers.get(hook)
    if (!numbers) this.#numbers.set(hook, (numbers = new FreeNumbers(this.store, filledBy(this.project, hook))))
    numbers.within(rows)
    return numbers.take(sequence, this.series)
  }

  #nextOf(sequence: string): string {
    const number = this.sequences.take(sequence)
    if (this.options.record) this.notes.numbers.add(number)
    return number
  }

  log(values: readonly string[]): void {
    const text = values.join(' ')
    const { hook, row } = this.stage
    this.stage.recorder?.logged(text)
    this.notes.log({ hook: hook?.name ?? '', table: row?.shape.table.name ?? '', id: row?.id ?? null, text })
  }
}
