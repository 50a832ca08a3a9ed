import type { InputRow } from '@patient-hook/contract'
import { CsvText } from '../formats/csv.js'
import { readCsv } from './record-files.js'
import type { Table } from './types.js'

/** Rows of a CSV file as they are saved: with an id a change of that record, without one a new record; columns that are not there are not touched. */

/** @throws HookError project/bad-csv naming file and line of the first fault, the rest under `others` */
export function csvInputs(file: string, text: string, table: Table): InputRow[] {
  const records = readCsv(file, text, table, true)
  const [header = [], ...rows] = new CsvText(file, text).rows
  const idColumn = header.indexOf('id')
  const fields = header.filter((name) => name !== 'id')
  return records.map((record, index) => {
    const values = Object.fromEntries(fields.map((name) => [name, record[name] ?? null]))
    const hasId = idColumn >= 0 && (rows[index]?.[idColumn] ?? '') !== ''
    if (hasId) return { table: table.name, id: record.id, values }
    // What is empty in a new record is left to defaults and hooks.
    return { table: table.name, values: Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null)) }
  })
}
