import { recordTitle, type RecordValues, type RowOut, type Value } from '@patient-hook/contract'
import { useProject } from '../stores/project'

/** What people call records, by the values that are at hand. */
export function useTitles() {
  const project = useProject()

  /** @returns "Lot HV-00000003", or "Lot 3" where the record has no title */
  function titleOf(table: string, id: number | null, values: Readonly<Record<string, Value>> | RecordValues | null): string {
    const found = project.table(table)
    return found ? recordTitle(found, id, values) : `${table} ${id ?? '(new)'}`
  }
  /** The title of a row of a save: after the save, or before it for a removed record. */
  const titleOfRow = ({ table, id, now, was }: Pick<RowOut, 'table' | 'id' | 'now' | 'was'>): string =>
    titleOf(table, id, now ?? was)
  /** Titles of other mentions of these rows. */
  function titlesAmong(rows: readonly RowOut[]): (table: string, id: number | null) => string {
    const byKey = new Map(rows.map((row) => [`${row.table} ${row.id}`, row]))
    return (table, id) => {
      const row = byKey.get(`${table} ${id}`)
      return row ? titleOfRow(row) : titleOf(table, id, null)
    }
  }
  return { titleOf, titleOfRow, titlesAmong }
}
