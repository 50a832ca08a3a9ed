import { HookError, type ErrorReport } from '../errors.js'
import { hintFor } from '../model/names.js'
import { quote } from '../model/ddl.js'
import type { RecordValues, Spent, Value } from '../model/types.js'
import { trySave, type SaveEnvironment, type SaveOutcome } from '../save/save.js'
import type { Probe } from '../sandbox/probe.js'
import type { InputRow, LogLine, RowOut, Sent, Verdict } from '../save/types.js'
import { shapeOf } from '../store/shape.js'
import { pretendChange } from './pretend.js'
import { Recorder, type LineTrace } from './recorder.js'

/** The effect sheet: what a save of the rows of one table would do, as a rehearsal. */

export interface SheetRequest {
  table: string
  /** create: as if each record were new; update: with a change; delete: as if each were removed. */
  event: 'create' | 'update' | 'delete'
  /** For create: fields that are not typed, so that a hook may set them. */
  leaveOut?: readonly string[]
  /** For update: fields that are pretended to change, each to another value that it takes. */
  touch?: readonly string[]
  /** For update: values that are typed into every row; overrule `touch`. */
  values?: Record<string, Value>
  /** Typed values of single rows, by id; overrule both. */
  typed?: Record<string, Record<string, Value>>
  user?: string
  clock?: string
  /** At most so many rows. */
  limit?: number
  /** The row whose values are recorded line by line, by id; default: the first. */
  focus?: number
}

export interface Sheet {
  table: string
  event: SheetRequest['event']
  /** Records there are in the table. */
  total: number
  rows: RowOut[]
  ripples: RowOut[]
  verdicts: VerdictGroup[]
  refusals: ErrorReport[]
  /** An error of the whole save, such as a spent budget. */
  error: ErrorReport | null
  sent: Sent[]
  logs: LogLine[]
  spent: Spent
  ran: Record<string, number>
  /** The id of the row whose values are in `lines`; null when there is no row. */
  focus: number | null
  /** What each line did for that row; empty where code is not probed. */
  lines: LineTrace[]
}

/** Verdicts that are the same but for the row: a sheet of 500 rows and seven hooks has 3500 of them, and few reasons. */
export interface VerdictGroup extends Omit<Verdict, 'id'> {
  ids: number[]
}

function grouped(verdicts: readonly Verdict[]): VerdictGroup[] {
  const groups = new Map<string, VerdictGroup>()
  for (const { id, ...same } of verdicts) {
    const key = `${same.hook} ${same.depth} ${same.verdict} ${same.reason}`
    const group = groups.get(key)
    if (group) group.ids.push(id)
    else groups.set(key, { ...same, ids: [id] })
  }
  return [...groups.values()]
}

/** A sheet is recorded where the environment's code is probed. */
export interface SheetEnvironment extends SaveEnvironment {
  probe?: { listener: Probe | null } | null
}

export const SHEET_ROWS = 500

/** @throws HookError for an unknown table or field */
export function makeSheet(environment: SheetEnvironment, request: SheetRequest): Sheet {
  const { project, store } = environment
  const table = project.tables.get(request.table)
  if (!table)
    throw new HookError('project/unknown-table', { table: request.table, hint: hintFor(request.table, project.tables.keys()) })
  const shape = shapeOf(table)
  const touched = (request.touch ?? []).map((name) => {
    const field = table.fields.find((each) => each.name === name)
    if (!field)
      throw new HookError('save/unknown-field', { table: table.name, field: name, hint: hintFor(name, shape.index.keys()) })
    return field
  })
  const total = store
    .prepare(`SELECT count(*) FROM ${quote(table.name)}`)
    .pluck(true)
    .get() as number
  const limit = Math.min(request.limit ?? SHEET_ROWS, SHEET_ROWS)
  const raw = store
    .prepare(`SELECT ${shape.columns} FROM ${quote(table.name)} ORDER BY "id" LIMIT ?`)
    .raw(true)
    .all(limit) as unknown[][]
  const records = raw.map((each) => shape.plain(shape.fromRaw(each)))
  const ids = new Map<string, number[]>()
  const idsOf = (name: string): number[] => {
    let found = ids.get(name)
    if (!found)
      ids.set(
        name,
        (found = store
          .prepare(`SELECT "id" FROM ${quote(name)} ORDER BY "id" LIMIT 20`)
          .raw(false)
          .pluck(true)
          .all() as number[]),
      )
    return found
  }
  const inputs = records.map((record): InputRow => {
    const typed = request.typed?.[String(record.id)] ?? {}
    if (request.event === 'delete') return { table: table.name, values: { id: record.id }, remove: true }
    if (request.event === 'create')
      return { table: table.name, values: { ...typedValues(record, request.leaveOut), ...typed, id: record.id } }
    return { table: table.name, values: { ...pretendChange(touched, record, idsOf), ...request.values, ...typed, id: record.id } }
  })
  const { probe = null } = environment
  const focus = records.find((record) => record.id === request.focus)?.id ?? records[0]?.id ?? null
  const recorder = probe ? new Recorder(focus === null ? null : { table: table.name, id: focus }) : undefined
  // Nobody reads the history of what is not kept.
  const recorded = { ...environment, recorder, history: false }
  if (probe && recorder) probe.listener = recorder
  const work = () => {
    // As if new: the records step aside, within a transaction that is rolled back.
    if (request.event === 'create') {
      store.db.pragma('defer_foreign_keys = ON')
      store
        .prepare(`DELETE FROM ${quote(table.name)} WHERE "id" IN (SELECT value FROM json_each(?))`)
        .run(JSON.stringify(records.map((record) => record.id)))
    }
    const { user, clock } = request
    const value = trySave(recorded, inputs, {
      user,
      clock,
      rehearse: true,
      record: true,
      partial: true,
      keepIds: request.event === 'create',
    })
    return { value, keep: false }
  }
  let outcome: SaveOutcome
  try {
    outcome = store.transaction(work)
  } finally {
    if (probe) probe.listener = null
  }
  const { rows, verdicts, refusals, error, sent, logs, spent, ran } = outcome
  return {
    table: table.name,
    event: request.event,
    total,
    verdicts: grouped(verdicts),
    refusals,
    error,
    sent,
    logs,
    spent,
    ran,
    // What a row was is needed only where it is no more: else each change says it.
    rows: rows.filter((row) => row.depth === 0).map((row) => (row.now ? { ...row, was: null } : row)),
    focus,
    lines: recorder?.traces() ?? [],
    ripples: rows.filter((row) => row.depth > 0 && row.changes.length > 0),
  }
}

const typedValues = (record: RecordValues, leaveOut: readonly string[] = []): InputRow['values'] =>
  Object.fromEntries(Object.entries(record).filter(([name, value]) => value !== null && !leaveOut.includes(name)))
