import { HookError, type ErrorReport } from '../errors.js'
import type { RecordValues } from '../model/types.js'
import type { Store } from '../store/database.js'
import { readByIds, takeIds } from '../store/records.js'
import { Sequences } from '../store/sequences.js'
import { shapeOf } from '../store/shape.js'
import { beforeCommit } from './before-commit.js'
import { saveLevel } from './level.js'
import { givenOf, keepGiven } from './given.js'
import { checkDeletes } from './links.js'
import type { SaveEnvironment } from './environment.js'
import { Session } from './session.js'
import type { SaveOptions, SaveResult } from './types.js'
import type { Units } from './units.js'
import { checkReadEnough, Unproved } from './unproved.js'

/** One pass of a save: one transaction through all stations, batch by batch. */

export interface SaveOutcome extends SaveResult {
  /** Why no changes were saved. */
  error: ErrorReport | null
}

/** More refusals than this are not looked for. */
const MOST_REFUSALS = 1000

export interface Pass {
  outcome: SaveOutcome
  /** Units that a refusal applies to, whatever becomes of the others. */
  refusedUnits: ReadonlySet<number>
  /** Ended by an error of the whole save, such as a spent budget. */
  broken: boolean
}

/** @param dropped units that are left out, as if they had never been given */
export function runPass(
  environment: SaveEnvironment,
  units: Units,
  dropped: ReadonlySet<number>,
  options: SaveOptions,
  givenIds: Map<number, number>,
): Pass {
  const work = (session: Session) => {
    reserveIds(environment.store, units, givenIds)
    session.readSources(units.inputs)
    expectTyped(session, dropped)
    try {
      for (const batch of units.batches(environment.project.batchSize, dropped)) {
        saveLevel(session, batch, 0)
        if (session.refusals.list.length >= MOST_REFUSALS) break
      }
      if (!session.refusals.none) return
      session.trades.settle()
      if (!session.refusals.none) return
      beforeCommit(session)
      checkDeletes(session)
      if (session.refusals.none && session.conflicts[0]) throw session.conflicts[0]
    } finally {
      checkReadEnough(session)
    }
  }
  for (;;)
    try {
      return inOnePass(environment, units, options, givenIds, work)
    } catch (error) {
      if (!(error instanceof Unproved)) throw error
      environment.program.distrust(error.table)
    }
}

/**
 * A save in one transaction: noted, with what it spent, its messages and series; kept unless something is refused or it is a rehearsal.
 * @param work what is written @param rows that the save says it was given
 * @throws what the work throws, but for errors of the save, which are reported
 */
export function inOnePass(
  environment: SaveEnvironment,
  units: Units,
  options: SaveOptions,
  givenIds: Map<number, number>,
  work: (session: Session) => void,
  rows = units.rows,
): Pass {
  const { project, program, store } = environment
  const sequences = new Sequences(store, project.sequences)
  const session = new Session(
    project,
    program,
    store,
    sequences,
    {
      ...options,
      history: environment.history ?? true,
      recorder: environment.recorder,
      switches: environment.switches,
      backfill: environment.backfill,
    },
    units,
    givenIds,
  )
  let error: ErrorReport | null = null
  let broken = false
  let records: (RecordValues | null)[] = []
  try {
    store.transaction(() => {
      program.renew()
      environment.backfill?.begin()
      session.saveId = store.run(
        'INSERT INTO ph_save (at, user, rows, spent, token, job, versions) VALUES (?, ?, ?, ?, ?, ?, ?)',
        session.clock,
        session.user,
        rows,
        '{}',
        options.token ?? null,
        environment.backfill?.job ?? null,
        program.versions,
      ).lastInsertRowid as number
      const given = options.keepGiven && !options.rehearse ? givenOf(store, units.inputs, options) : null
      work(session)
      const refused = !session.refusals.none
      if (!refused) {
        sequences.flush()
        if (!environment.backfill?.holdMessages) writeOutbox(session)
        if (options.returnRecords) records = readBack(session, units)
        const spent = session.spending.close()
        const nearest = session.spending.nearest()
        store.run(
          'UPDATE ph_save SET spent = ?, ms = ?, budget = ?, share = ? WHERE id = ?',
          JSON.stringify(spent),
          spent.ms,
          nearest.budget,
          nearest.share,
          session.saveId,
        )
        if (given !== null) keepGiven(store, session.saveId, given)
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
  const { rows: told, verdicts, lookups, sent, logs, ran, took } = session.notes
  const outcome: SaveOutcome = {
    save: kept ? session.saveId : null,
    kept,
    error,
    refusals: session.refusals.list,
    records,
    rows: told,
    verdicts,
    lookups,
    logs,
    ran,
    took,
    sent: sent.map(({ channel, message, hook }) => ({ channel, message, hook })),
    spent: session.spending.close(),
    limits: session.spending.limits,
  }
  return { outcome, refusedUnits: session.refusals.standing(), broken }
}

/** Records that typed rows change or remove, of which some may take values that others give up. */
function expectTyped(session: Session, dropped: ReadonlySet<number>): void {
  const { units, project } = session
  const byTable = new Map<string, number[]>()
  for (const [index, { table, values }] of units.inputs.entries()) {
    const id = values?.['id']
    if (typeof id !== 'number' || dropped.has(units.unitOf(index + 1))) continue
    const ids = byTable.get(table)
    if (ids) ids.push(id)
    else byTable.set(table, [id])
  }
  for (const [name, ids] of byTable) {
    const table = project.tables.get(name)
    if (table) session.trades.expect(table, ids, units.rows > project.batchSize)
  }
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

/** The saved records as they are at the end, after ripples, in the order of the input; null where there is none. */
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
