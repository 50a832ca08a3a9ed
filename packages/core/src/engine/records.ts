import { HookError } from '../errors.js'
import { quote } from '../model/ddl.js'
import { hintFor } from '../model/names.js'
import type { Project, RecordValues, Table } from '../model/types.js'
import { HISTORY_SQL, readEntry, type HistoryEntry } from '../save/history.js'
import type { Store } from '../store/database.js'
import { readByIds } from '../store/records.js'
import { orderSql, whereSql } from '../store/where.js'
import { shapeOf } from '../store/shape.js'

/** Reads of live records for the interface: lists with paging, one record, its history, choices for a link. */

export interface RecordPage {
  total: number
  records: RecordValues[]
  /** For each link field of the table: id to what people call the record. */
  labels: Record<string, Record<string, string>>
}

export function tableNamed(project: Project, name: string): Table {
  const table = project.tables.get(name)
  if (!table) throw new HookError('project/unknown-table', { table: name, hint: hintFor(name, project.tables.keys()) })
  return table
}

export function listRecords(
  project: Project,
  store: Store,
  name: string,
  options: { where?: Record<string, unknown>; orderBy?: string; offset?: number; limit?: number; search?: string },
): RecordPage {
  const table = tableNamed(project, name)
  const shape = shapeOf(table)
  const where = whereSql(table, options.where ?? {})
  const texts = table.fields
    .filter((field) => field.type === 'string')
    .map((field) => `instr(lower(${quote(field.name)}), ?) > 0`)
  const search = options.search?.trim().toLowerCase() ?? ''
  if (search !== '') {
    where.sql += `${where.sql ? ' AND' : ' WHERE'} (${[...texts, 'CAST("id" AS TEXT) = ?'].join(' OR ')})`
    where.parameters.push(...texts.map(() => search), search)
  }
  const total = store
    .prepare(`SELECT count(*) FROM ${quote(name)}${where.sql}`)
    .pluck(true)
    .get(...where.parameters) as number
  const raw = store
    .prepare(
      `SELECT ${shape.columns} FROM ${quote(name)}${where.sql} ORDER BY ${orderSql(table, options.orderBy)} LIMIT ? OFFSET ?`,
    )
    .raw(true)
    .all(...where.parameters, options.limit ?? 100, options.offset ?? 0) as unknown[][]
  const records = raw.map((each) => shape.plain(shape.fromRaw(each)))
  const labels: RecordPage['labels'] = {}
  for (const field of table.fields) {
    if (!field.link) continue
    const ids = [...new Set(records.map((record) => record[field.name]).filter((id) => id !== null))] as number[]
    labels[field.name] = Object.fromEntries(
      [...labelsOf(project, store, field.link.table, ids)].map(([id, label]) => [String(id), label]),
    )
  }
  return { total, records, labels }
}

/** The field that best names a record of the table: its first unique text, else its first text. */
export function namingField(table: Table): string | null {
  const texts = table.fields.filter((field) => field.type === 'string' && !field.enum && !field.format)
  return (texts.find((field) => field.name === 'name') ?? texts.find((field) => field.unique) ?? texts[0])?.name ?? null
}

export function labelsOf(project: Project, store: Store, name: string, ids: readonly number[]): Map<number, string> {
  const field = namingField(tableNamed(project, name))
  if (ids.length === 0) return new Map()
  const sql = `SELECT "id", ${field ? quote(field) : 'NULL'} FROM ${quote(name)} WHERE "id" IN (SELECT value FROM json_each(?))`
  const found = store.prepare(sql).raw(true).all(JSON.stringify(ids)) as [number, string | null][]
  return new Map(found.map(([id, label]) => [id, label ?? `${name} ${id}`]))
}

/** Records to choose from for a link, those whose name contains the text first. */
export function choicesFor(
  project: Project,
  store: Store,
  name: string,
  text: string,
  limit = 20,
): { id: number; label: string }[] {
  const field = namingField(tableNamed(project, name))
  const column = field ? quote(field) : `CAST("id" AS TEXT)`
  const sql = `SELECT "id", ${column} FROM ${quote(name)} WHERE instr(lower(coalesce(${column}, '')), ?) > 0 OR CAST("id" AS TEXT) = ? ORDER BY "id" LIMIT ?`
  const found = store.prepare(sql).raw(true).all(text.toLowerCase(), text, limit) as [number, string | null][]
  return found.map(([id, label]) => ({ id, label: label ?? `${name} ${id}` }))
}

/** @throws HookError save/not-found */
export function readRecord(
  project: Project,
  store: Store,
  name: string,
  id: number,
): { record: RecordValues; history: HistoryEntry[]; labels: RecordPage['labels'] } {
  const shape = shapeOf(tableNamed(project, name))
  const found = readByIds(store, shape, [id]).get(id)
  if (!found) throw new HookError('save/not-found', { table: name, id })
  const page = listRecords(project, store, name, { where: { id } })
  return { record: shape.plain(found), history: readHistory(project, store, name, id), labels: page.labels }
}

export function readHistory(project: Project, store: Store, name: string, id: number): HistoryEntry[] {
  return (store.prepare(HISTORY_SQL).raw(false).all(tableNamed(project, name).name, id) as Parameters<typeof readEntry>[0][]).map(
    readEntry,
  )
}
