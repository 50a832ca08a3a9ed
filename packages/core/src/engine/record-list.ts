import { titleFieldOf, type RecordPage } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import { quote } from '../model/ddl.js'
import type { Table } from '../model/types.js'
import type { Store } from '../store/database.js'
import { beyond, orderSql, reversed, sortKeys, type Beyond } from '../store/order.js'
import { shapeOf } from '../store/shape.js'
import { whereSql } from '../store/where.js'

/** Lists of records for the interface, in any order, a page at a time: by place, or by what comes after or before a record. */

/** Records that can be read: the live ones, or those of a fixture set. */
export interface Readable {
  readonly store: Store
  /** @throws HookError project/unknown-table */
  table(name: string): Table
  /** How many rows a query has. */
  count(sql: string, parameters: readonly unknown[]): number
}

export interface ListOptions {
  where?: Record<string, unknown>
  /** Field names with commas between, each with - before it for falling order. */
  orderBy?: string
  /** Rows left out, from the first or from the record that is named. */
  offset?: number
  limit?: number
  search?: string
  /** The id of a record: those that come after it. However far down it stands, its page is at hand where an index has the order. */
  after?: number
  /** The id of a record: those right before it. */
  upTo?: number
}

interface Condition {
  sql: string
  parameters: unknown[]
}

function conditionOf(table: Table, options: ListOptions): Condition {
  const where = whereSql(table, options.where ?? {})
  const search = options.search?.trim().toLowerCase() ?? ''
  if (search === '') return where
  const texts = table.fields
    .filter((field) => field.type === 'string')
    .map((field) => `instr(lower(${quote(field.name)}), ?) > 0`)
  return {
    sql: `${where.sql}${where.sql ? ' AND' : ' WHERE'} (${[...texts, 'CAST("id" AS TEXT) = ?'].join(' OR ')})`,
    parameters: [...where.parameters, ...texts.map(() => search), search],
  }
}

/** @throws HookError project/unknown-table, hook/unknown-field, hook/bad-query; save/not-found where the record to start at is gone */
export function list(open: Readable, name: string, options: ListOptions): RecordPage {
  const table = open.table(name)
  const shape = shapeOf(table)
  const where = conditionOf(table, options)
  const total = open.count(`SELECT count(*) FROM ${quote(name)}${where.sql}`, where.parameters)
  const orderBy = options.orderBy?.split(',').map((key) => key.trim())
  const limit = options.limit ?? 100
  const rows = (order: string, further: Condition | null, offset: number): unknown[] =>
    open.store.rows(
      `SELECT ${shape.columns} FROM ${quote(name)}${where.sql}` +
        `${further ? `${where.sql ? ' AND' : ' WHERE'} ${further.sql}` : ''} ORDER BY ${order} LIMIT ? OFFSET ?`,
      ...where.parameters,
      ...(further?.parameters ?? []),
      limit,
      offset,
    )
  const anchor = options.after ?? options.upTo
  let raw: unknown[]
  if (anchor === undefined) raw = rows(orderSql(table, orderBy), null, options.offset ?? 0)
  else {
    const isBefore = options.after === undefined
    raw = from(table, open.store, anchor, isBefore, orderBy, limit, (order, further) => rows(order, further, options.offset ?? 0))
    if (isBefore) raw.reverse()
  }
  const records = raw.map((each) => shape.plain(shape.fromRaw(each as never)))
  const labels: RecordPage['labels'] = {}
  for (const field of table.fields) {
    if (!field.link) continue
    const ids = [...new Set(records.map((record) => record[field.name]).filter((id) => id !== null))] as number[]
    labels[field.name] = Object.fromEntries([...labelsOf(open, field.link.table, ids)].map(([id, label]) => [String(id), label]))
  }
  return { total, records, labels }
}

function from(
  table: Table,
  store: Store,
  id: number,
  isBefore: boolean,
  orderBy: string[] | undefined,
  limit: number,
  rows: (order: string, further: Condition) => unknown[],
): unknown[] {
  const keys = isBefore ? reversed(sortKeys(table, orderBy)) : sortKeys(table, orderBy)
  const columns = keys.map((key) => quote(key.name)).join(', ')
  const [values] = store.rows(`SELECT ${columns} FROM ${quote(table.name)} WHERE "id" = ?`, id) as unknown[][]
  if (!values) throw new HookError('save/not-found', { table: table.name, id })
  const { order, bound, ...rest }: Beyond = beyond(keys, values)
  if (bound) {
    const near = rows(order, { sql: `${bound.sql} AND ${rest.sql}`, parameters: [...bound.parameters, ...rest.parameters] })
    if (near.length === limit) return near
  }
  return rows(order, rest)
}

/** What people call the records, by their ids. */
export const labelsOf = (open: Readable, name: string, ids: readonly number[]): Map<number, string> =>
  new Map([...titlesOf(open, name, ids)].map(([id, title]) => [id, title ?? `${name} ${id}`]))

/** The titles of records, by their ids; null where a record has none. @throws HookError project/unknown-table */
export function titlesOf(open: Readable, name: string, ids: readonly number[]): Map<number, string | null> {
  const field = titleFieldOf(open.table(name))
  if (ids.length === 0) return new Map()
  const sql = `SELECT "id", ${field ? quote(field) : 'NULL'} FROM ${quote(name)} WHERE "id" IN (SELECT value FROM json_each(?))`
  return new Map(open.store.rows(sql, JSON.stringify(ids)) as [number, string | null][])
}
