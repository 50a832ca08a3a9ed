import type { CsvResult } from '@patient-hook/contract'

/** What an import did, as CSV for those who have to correct the file. */

const cell = (value: unknown): string => {
  const raw = value === null || value === undefined ? '' : String(value)
  // A message may quote a cell of the file: no spreadsheet is to read it as a formula.
  const text = /^[=+\-@\t\r]/.test(raw) ? `'${raw}` : raw
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

/** One line for each refused row, after a summary. RFC 4180. */
export function importReport({ rows, created, changed, same, refused, refusals }: CsvResult): string {
  const head = [
    ['rows', 'new', 'changed', 'unchanged', 'refused'],
    [rows, created, changed, same, refused],
    [],
    ['row', 'line', 'field', 'message', 'what to do', 'hook'],
  ]
  const lines = refusals.map(({ row, line, field, message, todo, hook }) => [row, line, field, message, todo, hook])
  const rest = refused > refusals.length ? [['', '', '', `and ${refused - refusals.length} more refused rows`]] : []
  return [...head, ...lines, ...rest].map((line) => line.map(cell).join(',')).join('\r\n') + '\r\n'
}

/** "38 of 40 rows imported: 30 new, 8 changed; 2 refused" */
export function importWord({ rows, created, changed, same, refused }: CsvResult): string {
  const parts = [`${created} new`, `${changed} changed`, ...(same > 0 ? [`${same} unchanged`] : [])]
  return `${created + changed + same} of ${rows} rows imported: ${parts.join(', ')}${refused > 0 ? `; ${refused} refused` : ''}`
}
