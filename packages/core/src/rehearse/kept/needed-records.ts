import type { InputRow, Lookup, RowOut } from '@patient-hook/contract'
import { quote } from '../../model/ddl.js'
import type { Project, RecordValues } from '../../model/types.js'
import { readByIds } from '../../store/records.js'
import type { Store } from '../../store/database.js'
import { shapeOf } from '../../store/shape.js'

/** The records that a rehearsal needs to come out the same again: those that it read or changed, and what they link to. */

export type NeededRecords = ReadonlyMap<string, readonly RecordValues[]>

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

/** Also what these records link to, as long as there is more. Records that are not there before are left out. */
function withLinked(project: Project, store: Store, wanted: ReadonlyMap<string, ReadonlySet<number>>): NeededRecords {
  const taken = new Map<string, Map<number, RecordValues>>()
  let open = new Map([...wanted].map(([table, ids]) => [table, [...ids]]))
  while (open.size > 0) {
    const next = new Map<string, number[]>()
    for (const [name, ids] of open) {
      const table = project.tables.get(name)!
      const known = taken.get(name) ?? new Map<number, RecordValues>()
      taken.set(name, known)
      const missing = ids.filter((id) => !known.has(id))
      for (const [id, record] of readByIds(store, shapeOf(table), missing)) {
        known.set(id, shapeOf(table).plain(record))
        for (const { name: field, link } of table.fields) {
          const target = link && record[field]
          if (link && typeof target === 'number' && !taken.get(link.table)?.has(target))
            next.set(link.table, [...(next.get(link.table) ?? []), target])
        }
      }
    }
    open = next
  }
  return new Map(
    [...taken].flatMap(([table, records]) =>
      records.size > 0 ? [[table, [...records.values()].sort((a, b) => a.id - b.id)] as const] : [],
    ),
  )
}
