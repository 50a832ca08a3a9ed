import type { InputRow, Lookup, RowOut } from '@patient-hook/contract'
import { quote } from '../../model/ddl.js'
import type { Project } from '../../model/types.js'
import type { Store } from '../../store/database.js'
import { withLinked, type LinkedRecords } from '../../store/linked-records.js'

/** The records that a rehearsal needs to come out the same again: those that it read or changed, and what they link to. */

export type NeededRecords = LinkedRecords

export interface Rehearsed {
  inputs: readonly InputRow[]
  rows: readonly RowOut[]
  lookups: readonly Lookup[]
}

/** @param store the records as they stand before the rehearsal */
export function neededRecords(project: Project, store: Store, { inputs, rows, lookups }: Rehearsed): NeededRecords {
  const wanted = new Map<string, Set<number>>()
  const want = (table: string, id: unknown) => {
    if (typeof id !== 'number' || !project.tables.has(table)) return
    const ids = wanted.get(table) ?? new Set()
    wanted.set(table, ids.add(id))
  }
  for (const { table, values, id, copyOf } of inputs) {
    want(table, copyOf ?? id ?? values?.['id'])
    for (const field of project.tables.get(table)?.fields ?? []) if (field.link) want(field.link.table, values?.[field.name])
  }
  for (const row of rows) {
    want(row.table, row.was?.id)
    for (const field of project.tables.get(row.table)?.fields ?? [])
      if (field.link) for (const record of [row.was, row.now]) want(field.link.table, record?.[field.name])
  }
  for (const { call, table, asked, ids } of lookups) {
    const link = project.tables.get(table)?.fields.find((field) => field.name === asked['link'])
    if (call === 'rollup' && link) {
      // A figure over children: all of them count.
      const sql = `SELECT "id" FROM ${quote(table)} WHERE ${quote(link.name)} IN (SELECT value FROM json_each(?))`
      for (const id of store.values(sql, JSON.stringify(ids))) want(table, id)
    } else for (const id of ids) want(table, id)
  }
  return withLinked(project, store, wanted)
}
