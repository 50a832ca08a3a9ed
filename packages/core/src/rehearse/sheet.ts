import type { SheetRequest, Sheet as SharedSheet, VerdictGroup } from '@patient-hook/contract'
import { HookError, type ErrorReport } from '../errors.js'
import { hintFor } from '../model/names.js'
import { tableNamed } from '../model/table-named.js'
import { quote } from '../model/ddl.js'
import type { RecordValues } from '../model/types.js'
import { trySave, type SaveEnvironment, type SaveOutcome } from '../save/save.js'
import type { Probe } from '../sandbox/probe.js'
import type { InputRow, Verdict } from '../save/types.js'
import { deleteRecords } from '../store/records.js'
import { shapeOf } from '../store/shape.js'
import { pretendChange } from './pretend.js'
import { linesOf } from './lines.js'
import { onRecord, Recorder } from './recorder.js'

/** The effect sheet: what a save of the rows of one table would do, as a rehearsal. */

export type { SheetRequest, VerdictGroup } from '@patient-hook/contract'
export type Sheet = Omit<SharedSheet, 'refusals' | 'error'> & { refusals: ErrorReport[]; error: ErrorReport | null }

function grouped(verdicts: readonly Verdict[]): VerdictGroup[] {
  const groups = new Map<string, VerdictGroup>()
  for (const { id, read: _, changed: __, ...same } of verdicts) {
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
  const table = tableNamed(project.tables, request.table)
  const shape = shapeOf(table)
  const touched = (request.touch ?? []).map((name) => {
    const field = table.fields.find((each) => each.name === name)
    if (!field)
      throw new HookError('save/unknown-field', { table: table.name, field: name, hint: hintFor(name, shape.index.keys()) })
    return field
  })
  const total = store.one(`SELECT count(*) FROM ${quote(table.name)}`) as number
  const limit = Math.min(request.limit ?? SHEET_ROWS, SHEET_ROWS)
  const raw = store.rows(`SELECT ${shape.columns} FROM ${quote(table.name)} ORDER BY "id" LIMIT ?`, limit)
  const records = raw.map((each) => shape.plain(shape.fromRaw(each)))
  const ids = new Map<string, number[]>()
  const idsOf = (name: string): number[] => {
    let known = ids.get(name)
    if (!known) ids.set(name, (known = store.values(`SELECT "id" FROM ${quote(name)} ORDER BY "id" LIMIT 20`) as number[]))
    return known
  }
  const inputs = records.map((record): InputRow => {
    const typed = request.typed?.[String(record.id)] ?? {}
    if (request.event === 'delete') return { table: table.name, values: { id: record.id }, remove: true }
    if (request.event === 'create')
      return { table: table.name, values: { ...typedValues(record, request.leaveOut), ...typed, id: record.id } }
    return {
      table: table.name,
      values: { ...pretendChange(table.name, touched, record, idsOf), ...request.values, ...typed, id: record.id },
    }
  })
  const { probe = null } = environment
  const focus = records.find((record) => record.id === request.focus)?.id ?? records[0]?.id ?? null
  const recorder = probe ? new Recorder(focus === null ? () => false : onRecord(table.name, focus)) : undefined
  // Nobody reads the history of what is not kept.
  const recorded = { ...environment, recorder, history: false }
  if (probe && recorder) probe.listener = recorder
  const work = () => {
    // As if new: the records step aside, within a transaction that is rolled back.
    if (request.event === 'create') {
      store.db.pragma('defer_foreign_keys = ON')
      deleteRecords(
        store,
        table,
        records.map((record) => record.id),
      )
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
    lines: recorder ? linesOf(recorder.log) : [],
    ripples: rows.filter((row) => row.depth > 0 && row.changes.length > 0),
  }
}

const typedValues = (record: RecordValues, leaveOut: readonly string[] = []): InputRow['values'] =>
  Object.fromEntries(Object.entries(record).filter(([name, value]) => value !== null && !leaveOut.includes(name)))
