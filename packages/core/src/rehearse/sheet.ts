import { titleFieldOf, type SheetRequest, type Sheet as SharedSheet, type VerdictGroup } from '@patient-hook/contract'
import { HookError, type ErrorReport } from '../errors.js'
import { hintFor } from '../model/names.js'
import { tableNamed } from '../model/table-named.js'
import { quote } from '../model/ddl.js'
import type { RecordValues, Table, Value } from '../model/types.js'
import { trySave, type SaveEnvironment, type SaveOutcome } from '../save/save.js'
import type { Probe } from '../sandbox/probe.js'
import type { InputRow, RowOut, Verdict } from '../save/types.js'
import { deleteRecords } from '../store/records.js'
import { shapeOf, shapeOfFields } from '../store/shape.js'
import { pretendChange } from './pretend.js'
import { linesOf } from './lines.js'
import { onRecord, Recorder } from './recorder.js'

/** The effect sheet: what a save of the rows of one table would do, as a rehearsal. */

export type { SheetRequest, VerdictGroup } from '@patient-hook/contract'
export type Sheet = Omit<SharedSheet, 'refusals' | 'error'> & { refusals: ErrorReport[]; error: ErrorReport | null }

function grouped(verdicts: readonly Verdict[]): VerdictGroup[] {
  const groups: VerdictGroup[] = []
  /** By hook, depth and verdict, then by reason: verdicts of a hook come in sequence. */
  const known = new Map<string, Map<string, VerdictGroup>>()
  let [hook, depth, ran, skipped] = ['', -1, new Map<string, VerdictGroup>(), new Map<string, VerdictGroup>()]
  const of = (name: string) => {
    const reasons = known.get(name) ?? new Map<string, VerdictGroup>()
    known.set(name, reasons)
    return reasons
  }
  for (const each of verdicts) {
    if (each.hook !== hook || each.depth !== depth) {
      ;({ hook, depth } = each)
      ran = of(`${hook} ${depth} ran`)
      skipped = of(`${hook} ${depth} skipped`)
    }
    const reasons = each.verdict === 'ran' ? ran : skipped
    const group = reasons.get(each.reason)
    if (group) group.ids.push(each.id)
    else {
      const { id, ...same } = each
      const first = { ...same, ids: [id] }
      reasons.set(each.reason, first)
      groups.push(first)
    }
  }
  return groups
}

/** The rows with those values only that are looked at: a sheet is asked for at each pause in typing. */
function trimmed(
  rows: readonly RowOut[],
  refusals: readonly ErrorReport[],
  show: readonly string[] | undefined,
  table: Table,
): RowOut[] {
  if (!show) return [...rows]
  const names = new Set(['id', titleFieldOf(table) ?? 'id', ...show])
  for (const { field } of refusals) if (field) names.add(field)
  for (const { changes } of rows) for (const { field } of changes) names.add(field)
  const told = [...names]
  const trim = (record: RecordValues | null) => {
    if (!record) return null
    const values: Record<string, Value> = {}
    for (const name of told) if (record[name] !== undefined) values[name] = record[name]
    return values as RecordValues
  }
  return rows.map((row) => ({ ...row, was: trim(row.was), now: trim(row.now) }))
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
  // Of records that are there no more is looked at here than what is pretended to change.
  const looked = request.event === 'create' ? shape : shapeOfFields(table, new Set(touched.map(({ name }) => name)))
  const raw = store.rows(`SELECT ${looked.columns} FROM ${quote(table.name)} ORDER BY "id" LIMIT ?`, limit)
  const records = raw.map((each) => looked.plain(looked.fromRaw(each)))
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
      return { table: table.name, values: Object.assign(typedValues(record, request.leaveOut), typed, { id: record.id }) }
    return {
      table: table.name,
      values: Object.assign(pretendChange(table.name, touched, record, idsOf), request.values, typed, { id: record.id }),
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
      record: 'briefly',
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
    rows: trimmed(
      rows.filter((row) => row.depth === 0),
      refusals,
      request.show,
      table,
    ),
    focus,
    lines: recorder ? linesOf(recorder.log) : [],
    ripples: rows.filter((row) => row.depth > 0 && row.changes.length > 0),
  }
}

const typedValues = (record: RecordValues, leaveOut: readonly string[] = []): Record<string, Value> =>
  Object.fromEntries(Object.entries(record).filter(([name, value]) => value !== null && !leaveOut.includes(name)))
