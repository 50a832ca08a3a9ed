import type { RecordValues, Value } from '@patient-hook/contract'
import Papa from 'papaparse'
import { cellText } from './cell-values'

/** Records as text that goes into a spreadsheet, a file or a test. */

const chosen = (record: RecordValues, columns: readonly string[]): Record<string, Value> =>
  Object.fromEntries(['id', ...columns.filter((name) => name !== 'id')].map((name) => [name, record[name] ?? null]))

/** With a line of names first; links as ids, so it can be imported again. RFC 4180. */
export const rowsAsCsv = (records: readonly RecordValues[], columns: readonly string[]): string =>
  Papa.unparse(
    {
      fields: ['id', ...columns],
      data: records.map((record) => Object.values(chosen(record, columns)).map((value) => cellText(value))),
    },
    { newline: '\r\n' },
  )

export const rowsAsJson = (records: readonly RecordValues[], columns: readonly string[]): string =>
  JSON.stringify(
    records.map((record) => chosen(record, columns)),
    null,
    2,
  )
