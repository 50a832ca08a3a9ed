import type { RecordValues } from '@patient-hook/contract'
import { quote } from '../../model/ddl.js'
import { loadRecords } from '../../store/records.js'
import { copyOf } from './field-values.js'
import type { Subject } from './subject.js'

/**
 * Loads copies of the records that a subject has of some tables, for batches that want more of them.
 * @param wanted by table
 * @returns their ids by table; fewer where a table cannot have so many that differ as it asks
 */
export function loadCopies(subject: Subject, wanted: ReadonlyMap<string, number>): Map<string, number[]> {
  const { store, project } = subject.environment
  const copies = new Map<string, number[]>()
  for (const [name, count] of wanted) {
    const table = project.tables.get(name)!
    const from = subject.records.get(name) ?? []
    if (from.length === 0) continue
    const highest = store.one(`SELECT coalesce(max("id"), 0) FROM ${quote(name)}`) as number
    const records = Array.from({ length: count }, (_, at) => copyOf(table, from[at % from.length]!, highest + 1 + at, at))
    copies.set(
      name,
      records.filter((record) => isLoaded(record)).map(({ id }) => id),
    )
    function isLoaded(record: RecordValues): boolean {
      try {
        loadRecords(store, table, [record])
        return true
      } catch (error) {
        if (String((error as { code?: unknown }).code).startsWith('SQLITE_CONSTRAINT')) return false
        throw error
      }
    }
  }
  return copies
}
