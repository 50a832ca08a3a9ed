import type { Project, RecordValues } from '../model/types.js'
import type { Store } from './database.js'
import { readByIds } from './records.js'
import { shapeOf } from './shape.js'

/** Records with all that they link to, directly or not. */

/** By table. */
export type LinkedRecords = ReadonlyMap<string, readonly RecordValues[]>

/** @param wanted ids by table; those that are not there are left out @returns in the order of their ids */
export function withLinked(project: Project, store: Store, wanted: ReadonlyMap<string, ReadonlySet<number>>): LinkedRecords {
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
