import { HookError, type ErrorReport } from '../errors.js'
import { hintFor } from '../model/names.js'
import type { Project, RecordValues } from '../model/types.js'
import { isDateTime } from '../model/values.js'
import { readByIds, takeIds } from '../store/records.js'
import { Sequences } from '../store/sequences.js'
import { shapeOf } from '../store/shape.js'
import type { Store } from '../store/database.js'
import { beforeCommit } from './before-commit.js'
import { saveLevel } from './level.js'
import { checkDeletes } from './links.js'
import type { Program } from './program.js'
import { Session } from './session.js'
import type { SaveRecorder } from './save-recorder.js'
import type { InputRow, SaveOptions, SaveResult } from './types.js'
import { Units } from './units.js'

/** Strings the stations of a save together: one transaction, batch by batch, all or nothing or the good rows only. */

export interface SaveEnvironment {
  project: Project
  program: Program
  store: Store
  /** Off only where a measurement wants it. */
  history?: boolean
  /** Listens to probed code. */
  recorder?: SaveRecorder
}

export interface SaveOutcome extends SaveResult {
  /** Why nothing was kept. */
  error: ErrorReport | null
}

/** More refusals than this are not looked for. */
const MOST_REFUSALS = 1000

/** Saves, and throws when the save is refused. @throws HookError with every refusal under `refusals` */
export function save(environment: SaveEnvironment, inputs: readonly InputRow[], options: SaveOptions = {}): SaveResult {
  const outcome = trySave(environment, inputs, options)
  if (outcome.error) throw new HookError(outcome.error)
  return outcome
}

/** Saves, and gives what happened also when it was refused or failed: for rehearsals and the effect sheet. */
export function trySave(environment: SaveEnvironment, inputs: readonly InputRow[], options: SaveOptions = {}): SaveOutcome {
  let units: Units
  try {
    checkOptions(environment.project, options)
    units = new Units(inputs)
  } catch (error) {
    if (!(error instanceof HookError)) throw error
    return { ...nothing(), error: error.report }
  }
  const refused: ErrorReport[] = []
  /** What was noted of rows that were dropped on the way. */
  const noted: Pick<SaveResult, 'rows' | 'verdicts'> = { rows: [], verdicts: [] }
  const dropped = new Set<number>()
  const givenIds = new Map<number, number>()
  for (;;) {
    const { outcome, refusedUnits, broken } = runPass(environment, units, dropped, options, givenIds)
    if (!options.partial) return outcome
    if (refusedUnits.size > 0 && !broken) {
      refused.push(...outcome.refusals)
      if (options.record)
        keepNotes(
          noted,
          outcome,
          [...refusedUnits].flatMap((unit) => units.rowsOf(unit)),
        )
      const before = dropped.size
      for (const unit of refusedUnits) dropped.add(unit)
      // On without them, as if they had never been given; where none is left, there is no save.
      if (dropped.size === units.count)
        return {
          ...outcome,
          ...inOrder(noted),
          error: null,
          records: Array<null>(units.rows).fill(null),
          refusals: byRow(refused),
        }
      if (dropped.size > before) continue
    }
    const rows = [...noted.rows, ...outcome.rows]
    if (options.record) rows.sort((a, b) => a.depth - b.depth || a.row - b.row)
    return {
      ...outcome,
      rows,
      verdicts: [...noted.verdicts, ...outcome.verdicts],
      refusals: byRow([...refused, ...outcome.refusals]),
    }
  }
}

/** @throws HookError for a user that the project does not have, and for a clock that is no time */
function checkOptions({ users }: Project, { user, clock }: SaveOptions): void {
  const names = users.map((each) => each.name)
  if (user !== undefined && names.length > 0 && !names.includes(user))
    throw new HookError('save/unknown-user', { user, hint: hintFor(user, names) })
  if (clock !== undefined && !isDateTime(clock)) throw new HookError('save/bad-clock', { clock })
}

const byRow = (refusals: readonly ErrorReport[]): ErrorReport[] => [...refusals].sort((a, b) => (a.row ?? 0) - (b.row ?? 0))

const inOrder = ({ rows, verdicts }: Pick<SaveResult, 'rows' | 'verdicts'>) => ({
  rows: [...rows].sort((a, b) => a.depth - b.depth || a.row - b.row),
  verdicts: [...verdicts],
})

function keepNotes(noted: Pick<SaveResult, 'rows' | 'verdicts'>, outcome: SaveOutcome, dropped: readonly number[]): void {
  const numbers = new Set(dropped)
  const rows = outcome.rows.filter((row) => row.depth === 0 && numbers.has(row.row))
  const keys = new Set(rows.map((row) => `${row.table} ${row.id}`))
  noted.rows.push(...rows)
  noted.verdicts.push(...outcome.verdicts.filter((verdict) => verdict.depth === 0 && keys.has(`${verdict.table} ${verdict.id}`)))
}

interface Pass {
  outcome: SaveOutcome
  refusedUnits: ReadonlySet<number>
  /** Ended by an error of the whole save, such as a spent budget. */
  broken: boolean
}

function runPass(
  environment: SaveEnvironment,
  units: Units,
  dropped: ReadonlySet<number>,
  options: SaveOptions,
  givenIds: Map<number, number>,
): Pass {
  const { project, program, store } = environment
  const { batchSize } = project
  const sequences = new Sequences(store, project.sequences)
  const session = new Session(
    project,
    program,
    store,
    sequences,
    { ...options, history: environment.history ?? true, recorder: environment.recorder },
    units.batchCount(batchSize),
    givenIds,
  )
  let error: ErrorReport | null = null
  let broken = false
  let records: (RecordValues | null)[] = []
  try {
    store.transaction(() => {
      session.saveId = store.run(
        'INSERT INTO ph_save (at, user, rows, spent, token) VALUES (?, ?, ?, ?, ?)',
        session.clock,
        session.user,
        units.rows,
        '{}',
        options.token ?? null,
      ).lastInsertRowid as number
      reserveIds(store, units, givenIds)
      for (const batch of units.batches(batchSize, dropped)) {
        saveLevel(session, batch, 0)
        if (session.refusals.list.length >= MOST_REFUSALS) break
      }
      if (session.refusals.none) {
        beforeCommit(session)
        checkDeletes(session)
      }
      const refused = !session.refusals.none
      if (!refused) {
        sequences.flush()
        writeOutbox(session)
        if (options.returnRecords) records = readBack(session, units)
        store.run('UPDATE ph_save SET spent = ? WHERE id = ?', JSON.stringify(session.spending.close()), session.saveId)
      }
      return { value: undefined, keep: !refused && !options.rehearse }
    })
    if (!session.refusals.none) error = summary(session.refusals.list)
  } catch (thrown) {
    if (!HookError.is(thrown)) {
      session.spending.close()
      throw thrown
    }
    broken = true
    error = { ...thrown.report, refusals: session.refusals.none ? undefined : session.refusals.list }
  }
  const kept = error === null && !options.rehearse
  const { rows, verdicts, lookups, sent, logs, ran } = session.notes
  const outcome: SaveOutcome = {
    save: kept ? session.saveId : null,
    kept,
    error,
    refusals: session.refusals.list,
    records,
    rows,
    verdicts,
    lookups,
    logs,
    ran,
    sent: sent.map(({ channel, message, hook }) => ({ channel, message, hook })),
    spent: session.spending.close(),
  }
  return { outcome, refusedUnits: session.refusals.units, broken }
}

/** Keeps the ids that rows were given in an earlier pass from being given to others. */
function reserveIds(store: Store, units: Units, givenIds: ReadonlyMap<number, number>): void {
  const highest = new Map<string, number>()
  for (const [row, id] of givenIds) {
    const table = units.tableOf(row)
    if (id > (highest.get(table) ?? 0)) highest.set(table, id)
  }
  for (const [table, id] of highest) takeIds(store, table, 1, id)
}

/** The first refusal speaks for all. */
function summary(refusals: readonly ErrorReport[]): ErrorReport {
  return { ...refusals[0]!, refusals: [...refusals] }
}

function writeOutbox(session: Session): void {
  for (const { channel, message, cause } of session.notes.sent)
    session.store.run(
      'INSERT INTO ph_outbox (save, channel, payload, at, hook) VALUES (?, ?, ?, ?, ?)',
      session.saveId,
      channel,
      JSON.stringify(message),
      session.clock,
      cause,
    )
}

/** The saved records as they stand at the end, after ripples, in the order of the input; null where there is none. */
function readBack(session: Session, units: Units): (RecordValues | null)[] {
  const wanted = new Map<string, number[]>()
  for (const [row, id] of session.inputIds) {
    const table = units.tableOf(row)
    const list = wanted.get(table)
    if (list) list.push(id)
    else wanted.set(table, [id])
  }
  const records = new Map(
    [...wanted].map(([table, list]) => [table, readByIds(session.store, shapeOf(session.project.tables.get(table)!), list)]),
  )
  return Array.from({ length: units.rows }, (_, index) => {
    const id = session.inputIds.get(index + 1)
    const table = units.tableOf(index + 1)
    const record = id === undefined ? undefined : records.get(table)?.get(id)
    return record ? shapeOf(session.project.tables.get(table)!).plain(record) : null
  })
}

const nothing = (): SaveResult => ({
  save: null,
  kept: false,
  refusals: [],
  records: [],
  rows: [],
  verdicts: [],
  lookups: [],
  sent: [],
  logs: [],
  spent: { queries: 0, rowsRead: 0, rowsWritten: 0, steps: 0, ripples: 0, ms: 0 },
  ran: {},
})
