import type { ListQuery, ListView } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import type { Table } from '../model/types.js'
import type { Store } from './database.js'
import { sortKeys } from './order.js'
import { fieldOf, whereSql } from './where.js'

/** Views of lists by name, of each table its own. */

/** @param table default: of all */
export const listViews = (store: Store, table?: string): ListView[] =>
  (
    store.rows(
      'SELECT tbl, name, query, user, at FROM ph_list_view WHERE tbl = coalesce(?, tbl) ORDER BY name COLLATE NOCASE, name',
      table ?? null,
    ) as [string, string, string, string, string][]
  ).map(([table, name, query, user, at]) => ({ table, name, query: JSON.parse(query) as ListQuery, user, at }))

/** Within a transaction. @throws HookError hook/unknown-field, hook/bad-query where the list could not be shown */
export function keepView(store: Store, table: Table, name: string, query: ListQuery, user: string): void {
  whereSql(table, query.where)
  sortKeys(table, keysOf(query.order))
  for (const column of query.columns ?? []) fieldOf(table, column)
  store.run(
    `INSERT INTO ph_list_view (tbl, name, query, user, at) VALUES (?, ?, ?, ?, ?)
     ON CONFLICT (tbl, name) DO UPDATE SET query = excluded.query, user = excluded.user, at = excluded.at`,
    table.name,
    name,
    JSON.stringify(query),
    user,
    new Date().toISOString(),
  )
}

/** Within a transaction. @throws HookError view/unknown */
export function removeView(store: Store, table: string, name: string): void {
  const { changes } = store.run('DELETE FROM ph_list_view WHERE tbl = ? AND name = ?', table, name)
  if (changes === 0) throw new HookError('view/unknown', { table, view: name })
}

/** Views follow their table: fields that got another name, fields that are gone, a table that is. Within a transaction. */
export function followTable(store: Store, table: string, after: Table | null, renames: Readonly<Record<string, string>>): void {
  if (!after) return void store.run('DELETE FROM ph_list_view WHERE tbl = ?', table)
  const named = (name: string): string => renames[name] ?? name
  const has = (name: string): boolean => name === 'id' || after.fields.some((field) => field.name === name)
  for (const { name, query } of listViews(store, table)) {
    const next: ListQuery = {
      search: query.search,
      order: keysOf(query.order)
        .map((key) => (key.startsWith('-') ? `-${named(key.slice(1))}` : named(key)))
        .filter((key) => has(key.replace('-', '')))
        .join(','),
      // A condition on a field that is gone stays and is reported: without it the list would have other records under the same name.
      where: Object.fromEntries(Object.entries(query.where).map(([field, condition]) => [named(field), condition])),
      columns: query.columns?.map(named).filter(has) ?? null,
    }
    if (JSON.stringify(next) !== JSON.stringify(query))
      store.run('UPDATE ph_list_view SET query = ? WHERE tbl = ? AND name = ?', JSON.stringify(next), table, name)
  }
}

const keysOf = (order: string): string[] => (order === '' ? [] : order.split(',').map((key) => key.trim()))
