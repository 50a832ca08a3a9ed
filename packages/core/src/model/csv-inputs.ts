import type { CsvColumn, InputRow } from '@patient-hook/contract'
import type { ErrorReport } from '../errors.js'
import { CsvText, delimiterOf } from '../formats/csv.js'
import { readCsvText, type ColumnUse, type UnreadableRows } from './record-files.js'
import type { RecordValues, Table } from './types.js'

/** Rows of a CSV file as they are saved: with an id a change of that record, without one a new record; columns that are not there are not touched. */

/** The file as it came, with whichever delimiter it has. @throws HookError project/bad-csv */
export const openCsv = (file: string, text: string): CsvText => new CsvText(file, text, delimiterOf(text))

const SAMPLES = 3
const plain = (text: string): string => text.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '')

/** What each column may be read as: the field whose name or label its head is. */
export function csvColumns(csv: CsvText, table: Table): { rows: number; columns: CsvColumn[] } {
  const [header = [], ...rows] = csv.rows
  const taken = new Set<string>()
  const columns = header.map((head, column): CsvColumn => {
    const names = [head, plain(head)]
    const field = table.fields.find(
      ({ name, label }) => names.includes(name) || names[1] === plain(name) || names[1] === plain(label),
    )
    const name = plain(head) === 'id' ? 'id' : (field?.name ?? null)
    const free = name !== null && !taken.has(name) ? name : null
    if (free !== null) taken.add(free)
    const samples = rows.map((cells) => cells[column] ?? '').filter((cell) => cell !== '')
    return { head, field: free, samples: [...new Set(samples.slice(0, 50))].slice(0, SAMPLES) }
  })
  return { rows: rows.length, columns }
}

/** Rows of a file as they are saved. */
export interface CsvRows {
  rows: InputRow[]
  /** Of each, its number in the file, from 1; null where none was left out. */
  numbers: number[] | null
  /** How many rows were left out since they cannot be read, and what is wrong with the first of them. */
  left: number
  unreadable: ErrorReport[]
}

export interface CsvUse {
  columns?: Readonly<Record<string, ColumnUse | null>>
  /** Rows that cannot be read are left out. */
  partial: boolean
}

/** @throws HookError project/bad-csv naming file and line of the first fault, the rest under `others` */
export function csvInputs(csv: CsvText, table: Table, { columns, partial }: CsvUse): CsvRows {
  const unreadable: UnreadableRows = { rows: new Set(), reports: [] }
  const records = readCsvText(csv, table, { openIds: true, columns, ...(partial ? { unreadable } : {}) })
  const [header = [], ...rows] = csv.rows
  const used = header.map((head) => (columns ? (columns[head]?.field ?? null) : head))
  const idColumn = used.indexOf('id')
  const fields = used.filter((name): name is string => name !== null && name !== 'id')
  const inputOf = (record: RecordValues, index: number): InputRow => {
    const values = Object.fromEntries(fields.map((name) => [name, record[name] ?? null]))
    const hasId = idColumn >= 0 && (rows[index]?.[idColumn] ?? '') !== ''
    if (hasId) return { table: table.name, id: record.id, values }
    // What is empty in a new record is left to defaults and hooks.
    return { table: table.name, values: Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null)) }
  }
  const left = unreadable.rows.size
  const places = left === 0 ? null : [...records.keys()].filter((index) => !unreadable.rows.has(index))
  return {
    rows: places ? places.map((index) => inputOf(records[index]!, index)) : records.map(inputOf),
    numbers: places && places.map((index) => index + 1),
    left,
    unreadable: unreadable.reports,
  }
}
