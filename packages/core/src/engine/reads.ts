import {
  titleFieldOf,
  type Choice,
  type FullRecord,
  type HistoryEntry,
  type MessageState,
  type NamedRecord,
  type SaveStory,
  type Why,
} from '@patient-hook/contract'
import { HookError } from '../errors.js'
import { quote } from '../model/ddl.js'
import { writeCsv } from '../model/record-files.js'
import { readHistory } from '../save/history.js'
import { leftIn, listBackfills, readBackfill } from '../backfill/backfill-store.js'
import { keysInUse as usedKeys, listKeys } from '../store/keys.js'
import { listViews } from '../store/list-views.js'
import { listMessages } from '../store/outbox.js'
import { readByIds } from '../store/records.js'
import { shapeOf } from '../store/shape.js'
import { fieldOf } from '../store/where.js'
import { labelsOf, list, titlesOf, type Readable } from './record-list.js'
import { listSaves, refusedStory, saveFigures, saveStory, type LogOptions, savedCounts as countsOfSave } from './save-log.js'
import { Provenance, type Looks } from './why.js'

/** Reads of records for the interface: lists with paging, one record, its history, choices for a link, the outbox. */

/** Records that a backfill left, told at a time. */
const MOST_LEFT = 500

/** Records to choose from for a link, those whose name contains the text. */
function choices(open: Readable, name: string, text: string, limit = 20): Choice[] {
  const field = titleFieldOf(open.table(name))
  const column = field ? quote(field) : `CAST("id" AS TEXT)`
  const sql = `SELECT "id", ${column} FROM ${quote(name)} WHERE instr(lower(coalesce(${column}, '')), ?) > 0 OR CAST("id" AS TEXT) = ? ORDER BY "id" LIMIT ?`
  const named = open.store.rows(sql, text.toLowerCase(), text, limit) as [number, string | null][]
  return named.map(([id, label]) => ({ id, label: label ?? `${name} ${id}` }))
}

/** Records that a search looks for in each table and in all, and how long it looks, in milliseconds: the rest is left to the lists. */
const SEARCH = { each: 5, all: 20, ms: 200 }

/** Records of these tables whose name contains the text, or whose id it is. */
function search(open: Readable, names: readonly string[], text: string): NamedRecord[] {
  const records: NamedRecord[] = []
  const end = performance.now() + SEARCH.ms
  for (const table of names) {
    if (records.length >= SEARCH.all || performance.now() > end) break
    records.push(...choices(open, table, text, SEARCH.each).map(({ id, label }) => ({ table, id, label })))
  }
  return records.slice(0, SEARCH.all)
}

/** @throws HookError save/not-found */
function record(open: Readable, name: string, id: number): FullRecord {
  const { store } = open
  const shape = shapeOf(open.table(name))
  const stored = readByIds(store, shape, [id]).get(id)
  if (!stored) throw new HookError('save/not-found', { table: name, id })
  const page = list(open, name, { where: { id } })
  return { record: shape.plain(stored), history: history(open, name, id), labels: page.labels }
}

/** @throws HookError save/not-found, or hook/unknown-field */
function why(open: Readable, name: string, id: number, field: string, until: number | null, hooks: readonly Looks[]): Why {
  const table = open.table(name)
  fieldOf(table, field)
  const known = open.store.one(`SELECT 1 FROM ${quote(name)} WHERE "id" = ?`, id) ?? open.store.one(HAS_HISTORY, id, name)
  if (known === undefined) throw new HookError('save/not-found', { table: name, id })
  const labelOf = (of: string, record: number) => labelsOf(open, of, [record]).get(record) ?? `${of} ${record}`
  return { steps: new Provenance(open, labelOf, hooks).steps({ table: name, id, field }, until) }
}
const HAS_HISTORY = 'SELECT 1 FROM ph_history WHERE record = ? AND tbl = ? LIMIT 1'

const history = (open: Readable, name: string, id: number): HistoryEntry[] => readHistory(open.store, open.table(name).name, id)

/** All records as CSV, in the order of their ids. */
function csv(open: Readable, name: string, safe = false): string {
  const table = open.table(name)
  const shape = shapeOf(table)
  const raw = open.store.rows(`SELECT ${shape.columns} FROM ${quote(name)} ORDER BY "id"`)
  return writeCsv(
    table,
    raw.map((each) => shape.plain(shape.fromRaw(each))),
    safe,
  )
}

const outbox = (open: Readable, offset: number, limit: number, only: MessageState | null = null) =>
  listMessages(open.store, offset, limit, only)

const saves = (open: Readable, options: LogOptions) => listSaves(open.store, options)
/** @throws HookError rehearse/no-save */
function save(open: Readable, id: number): SaveStory {
  const story = saveStory(open.store, id)
  const idsOf = (table: string) => story.records.filter((each) => each.table === table).map((each) => each.id)
  const titlesIn = (table: string) => {
    try {
      return titlesOf(open, table, idsOf(table))
    } catch (error) {
      // A table that was removed since has no titles.
      if (!HookError.is(error) || error.code !== 'project/unknown-table') throw error
      return null
    }
  }
  const titles = new Map([...new Set(story.records.map(({ table }) => table))].map((table) => [table, titlesIn(table)]))
  return { ...story, records: story.records.map((each) => ({ ...each, title: titles.get(each.table)?.get(each.id) ?? null })) }
}
const savedCounts = (open: Readable, id: number) => countsOfSave(open.store, id)
const refused = (open: Readable, id: number) => refusedStory(open.store, id)
const figures = (open: Readable, hours: number) => saveFigures(open.store, hours)

const backfills = (open: Readable) => listBackfills(open.store)
const backfill = (open: Readable, id: number) => ({
  backfill: readBackfill(open.store, id),
  left: leftIn(open.store, id, MOST_LEFT),
})

const views = (open: Readable, table: string) => listViews(open.store, open.table(table).name)
const allViews = (open: Readable) => listViews(open.store)

const keys = (open: Readable) => listKeys(open.store)
const keysInUse = (open: Readable) => usedKeys(open.store)

/** Every read by its name. */
export const READS = {
  list,
  record,
  choices,
  search,
  why,
  history,
  csv,
  outbox,
  saves,
  save,
  savedCounts,
  refused,
  figures,
  backfills,
  backfill,
  views,
  allViews,
  keys,
  keysInUse,
}
