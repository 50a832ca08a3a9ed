import type { BackfillFigures, BackfillLeft, InputRow } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import type { Table, Value, Values } from '../model/types.js'
import type { Series } from '../save/backfilling.js'
import type { SaveEnvironment } from '../save/environment.js'
import { changesOf, type RawEntry } from '../save/history.js'
import { trySave } from '../save/save.js'
import { saveAsSet, type RecordSet } from '../save/save-as-set.js'
import type { Store } from '../store/database.js'
import { leftOf, type Batch } from './batch.js'
import { counting } from './counting.js'
import { Tally } from './figures.js'

/**
 * Undoes what a backfill did to records, from their history: each field that nobody changed since is again what it was before. No
 * hook runs for it, since the values that hooks had set go back too.
 */

export interface Touched {
  table: string
  id: number
}

interface Undone {
  /** Fields that go back, and what to. */
  values: Values
  /** Fields that stay as they are, and why. */
  since: { field: string; why: string }[]
  made: boolean
  /** The record was removed: what it was. */
  removed: Values | null
  /** Why the record as a whole stays as it is. */
  stays: string | null
}

/** @param records in an order in which what was done last comes first */
export function undoBatch(
  environment: SaveEnvironment,
  records: readonly Touched[],
  figures: BackfillFigures,
  { user, job, undoes }: { user: string; job: number; undoes: number },
): Pick<Batch, 'left' | 'outcome' | 'alone'> {
  const { store, project } = environment
  const left: BackfillLeft[] = []
  const rows: Going[] = []
  const again: Going[] = []
  const gone = whatToUndo(store, records, undoes)
  for (const [index, { table: name, id }] of records.entries()) {
    const { made, removed, values, since, stays: said } = gone[index]!
    const table = project.tables.get(name)
    let stays = said
    if (!table) stays ??= 'its table is gone'
    else if (made && since.length > 0)
      stays ??= `it was made by the backfill, but ${since.map(({ field }) => field).join(', ')} changed since, so it stays`
    if (stays !== null || !table) {
      left.push({ table: name, id, field: null, message: stays! })
      continue
    }
    for (const { field, why } of since) left.push({ table: name, id, field, message: why })
    if (made) rows.push({ table, id, values: {}, remove: true })
    else if (removed) {
      const { kept, gone: lost } = fitting(table, removed)
      again.push({ table, id, values: kept })
      for (const field of lost) left.push({ table: name, id, field, message: GONE })
    } else if (Object.keys(values).length > 0) rows.push({ table, id, values })
  }
  // What was removed comes first: others may link to it again.
  for (const [goings, keepIds] of [[again.reverse(), true] as const, [rows, false] as const]) {
    if (goings.length === 0) continue
    const tally = new Tally(0, null)
    const within = { ...environment, backfill: counting(job, tally, true) }
    const ids = goings.map(({ id }) => id)
    const outcome =
      (keepIds ? null : saveAsSet(within, setOf(goings), ids, { user, hooks: [] })) ??
      trySave(
        within,
        goings.map(({ table, id, values, remove }): InputRow => ({ table: table.name, values: { ...values, id }, remove })),
        { user, partial: true, hooks: [], keepIds },
      )
    if (outcome.error) throw new HookError(outcome.error)
    for (const refusal of outcome.refusals) left.push(leftOf(refusal, goings[(refusal.row ?? 1) - 1]!.table.name, ids))
    if (outcome.kept) tally.addTo(figures, outcome, true)
  }
  figures.left += new Set(left.map(({ table, id }) => `${table} ${id}`)).size
  return { left, outcome: null, alone: false }
}

/** A record on its way back. */
interface Going {
  table: Table
  id: number
  values: Values
  remove?: true
}

/** Where the same fields of records of one table go back, and no more. */
function setOf(goings: readonly Going[]): RecordSet | null {
  const [{ table, values: first }] = goings as [Going]
  const names = Object.keys(first)
  const fields = table.fields.filter(({ name }) => name in first)
  if (fields.length < names.length) return null
  for (const { table: other, values, remove } of goings)
    if (
      remove ||
      other !== table ||
      Object.keys(values).length !== names.length ||
      !names.every((name) => Object.hasOwn(values, name))
    )
      return null
  const take = (_: Value, __: Series, place: number): Value[] => fields.map(({ name }) => goings[place]!.values[name]!)
  return { table, fields, by: null, differ: false, allChange: false, take, isSure: () => true }
}

type Entry = RawEntry & { job: number | null }

/** @returns by record, in their order */
function whatToUndo(store: Store, records: readonly Touched[], undoes: number): Undone[] {
  const first = store.one('SELECT min(id) FROM ph_save WHERE job = ?', undoes)
  const byTable = new Map<string, Map<number, Entry[]>>()
  for (const { table, id } of records) {
    const ids = byTable.get(table) ?? new Map<number, Entry[]>()
    byTable.set(table, ids.set(id, []))
  }
  for (const [table, ids] of byTable) {
    const entries = store.rows(
      `SELECT h.record, h.event, h.cause, h.patch, s.job FROM json_each(?) r CROSS JOIN ph_history h ON h.record = r.value
       JOIN ph_save s ON s.id = h.save WHERE h.tbl = ? AND h.save >= ? ORDER BY h.id`,
      JSON.stringify([...ids.keys()]),
      table,
      first,
    ) as [number, string, string, string, number | null][]
    for (const [record, event, cause, patch, job] of entries) ids.get(record)!.push({ event, cause, patch, job })
  }
  return records.map(({ table, id }) => undoneOf(byTable.get(table)!.get(id)!, undoes))
}

const CHANGED = 'changed since; it keeps its current value'
const RETYPED = 'the type of the field changed since; it keeps its current value'
const GONE = 'the field is gone since'

/** What the backfill did to one record, all its saves taken together, and what others, and changes of its table, did to it since. */
function undoneOf(entries: readonly Entry[], undoes: number): Undone {
  const undone: Undone = { values: {}, since: [], made: false, removed: null, stays: null }
  /** By today's names. */
  const since = new Map<string, string>()
  const from = new Map<string, Value>()
  let touched = false
  for (const entry of entries) {
    if (entry.event === 'model') {
      if (touched) followModel(entry, from, since)
      continue
    }
    const changes = changesOf(entry)
    if (entry.job === undoes) {
      touched = true
      if (entry.event === 'create') undone.made = true
      if (entry.event === 'delete') {
        // As it was before the backfill came to it, where it had changed it first.
        const was = Object.fromEntries(changes.map((change) => [change.field, change.from as Value]))
        if (undone.made) undone.stays = 'it was made and removed by the backfill'
        undone.removed = { ...was, ...Object.fromEntries(from) }
      } else
        for (const change of changes)
          if (!from.has(change.field) && !since.has(change.field)) from.set(change.field, change.from as Value)
    } else if (touched) {
      if (entry.event === 'delete') undone.stays = 'it was removed since'
      if (entry.event === 'create' && undone.removed) undone.stays = 'it is there again'
      for (const change of changes) since.set(change.field, CHANGED)
    }
  }
  undone.values = Object.fromEntries([...from].filter(([field]) => !since.has(field)))
  undone.since = [...since]
    .filter(([field, why]) => (undone.made ? why === CHANGED : from.has(field)))
    .map(([field, why]) => ({ field, why }))
  return undone
}

/** Fields get other names, other types, or go: what is known of them goes along. */
function followModel({ patch }: Entry, from: Map<string, Value>, since: Map<string, string>): void {
  const fieldIn = (path: string) => path.slice(1)
  for (const step of JSON.parse(patch) as { op: string; path: string; from?: string }[]) {
    const field = fieldIn(step.path)
    if (step.op === 'move') {
      rename(from, fieldIn(step.from!), field)
      rename(since, fieldIn(step.from!), field)
    } else if (step.op === 'remove' && from.has(field)) since.set(field, GONE)
    else if (step.op === 'replace') since.set(field, RETYPED)
  }
}

function rename<T>(map: Map<string, T>, old: string, name: string): void {
  const value = map.get(old)
  if (value === undefined) return
  map.delete(old)
  map.set(name, value)
}

/** What of a removed record its table still takes; of fields that have another name since nothing is known. */
function fitting(table: Table, removed: Values): { kept: Values; gone: string[] } {
  const there = new Set(table.fields.map(({ name }) => name))
  const names = Object.keys(removed)
  return {
    kept: Object.fromEntries(names.filter((name) => there.has(name)).map((name) => [name, removed[name]!])),
    gone: names.filter((name) => !there.has(name) && removed[name] !== null),
  }
}
