import type { Inferred } from '@patient-hook/contract'
import { MOST_FIELDS } from '@patient-hook/contract/limits'
import { HookError } from '../errors.js'
import { CsvText, delimiterOf } from '../formats/csv.js'
import { convert } from './convert.js'
import { fieldNameFrom, newField, type FieldEdit } from './table-edit.js'
import type { RecordValues, Table, Value } from './types.js'
import { isDate, utcText } from './dates.js'
import { gotOf } from './values.js'

/** A table from a CSV file: names from its header, types from its values, to be corrected before it is made. */

export type { Inferred } from '@patient-hook/contract'

interface Sheet {
  header: readonly string[]
  csv: CsvText
  rows: readonly (readonly string[])[]
}

/** @throws HookError project/bad-csv with file and line */
function read(file: string, text: string): Sheet {
  const csv = new CsvText(file, text, delimiterOf(text))
  const fail = (row: number, detail: string) => new HookError('project/bad-csv', { file, line: csv.lineOf(row), detail })
  const [header, ...rows] = csv.rows
  if (!header) throw new HookError('project/bad-csv', { file, line: 1, detail: 'the file is empty: a header row is needed' })
  if (header.length > MOST_FIELDS)
    throw fail(0, `the header has ${header.length} columns; a table has at most ${MOST_FIELDS} fields`)
  header.forEach((name, i) => {
    if (name.trim() === '') throw fail(0, `column ${i + 1} has no header`)
    if (header.indexOf(name) < i) throw fail(0, `two columns are headed ${name}`)
  })
  rows.forEach((cells, index) => {
    if (cells.length !== header.length) throw fail(index + 1, `the header has ${header.length} columns, this row ${cells.length}`)
  })
  return { header, csv, rows }
}

/** @param idsOf the ids that a table has, for links; null for a table that is not there */
export function inferTable(
  name: string,
  file: string,
  text: string,
  idsOf: (table: string) => ReadonlySet<number> | null,
): Inferred {
  const { header, rows, csv } = read(file, text)
  const taken = new Set<string>()
  const columns: Inferred['columns'] = []
  const fields: FieldEdit[] = []
  header.forEach((label, index) => {
    // An unquoted empty cell holds nothing, a quoted one holds empty text.
    const cells = rows.map((row) => row[index]!).filter((cell, row) => cell !== '' || csv.quoted(row + 1, index))
    if (label.toLowerCase() === 'id' && cells.length === rows.length && isIds(cells)) {
      columns.push({ header: label, field: 'id' })
      return
    }
    const field = newField(fieldNameFrom(label, taken), label.trim())
    taken.add(field.name)
    columns.push({ header: label, field: field.name })
    fields.push({ ...field, ...typeOf(field.name, cells, idsOf), required: rows.length > 0 && cells.length === rows.length })
  })
  const label = name.charAt(0).toUpperCase() + name.slice(1).replace(/_/g, ' ')
  return { edit: { name, label, help: '', titleField: null, fields }, columns, rows: rows.length }
}

/** What does not come back as the same text is not a number: 007, +49…, 1.10, 80E68, or more digits than a number holds. */
export const isNumberText = (cell: string): boolean =>
  cell !== '' && Number.isFinite(Number(cell)) && String(Number(cell)) === cell
export const isIntegerText = (cell: string): boolean => isNumberText(cell) && Number.isSafeInteger(Number(cell))

const isIds = (cells: readonly string[]): boolean =>
  cells.every((cell) => isIntegerText(cell) && Number(cell) > 0) && new Set(cells).size === cells.length

function typeOf(
  name: string,
  cells: readonly string[],
  idsOf: (table: string) => ReadonlySet<number> | null,
): Partial<FieldEdit> {
  if (cells.length === 0) return {}
  const all = (test: (cell: string) => boolean) => cells.every(test)
  if (all(isIntegerText)) {
    const target = name.replace(/_id$/, '')
    const ids = idsOf(target)
    if (ids && all((cell) => ids.has(Number(cell)))) return { type: 'integer', link: { table: target, onDelete: 'refuse' } }
    return { type: 'integer' }
  }
  if (all(isNumberText)) return { type: 'number' }
  if (all((cell) => /^(true|false|yes|no)$/i.test(cell))) return { type: 'boolean' }
  if (all(isDate)) return { format: 'date' }
  if (all((text) => utcText(text) !== null)) return { format: 'date-time' }
  const distinct = [...new Set(cells)]
  // A handful of words that come again and again are choices.
  if (
    cells.length >= 10 &&
    distinct.length <= 8 &&
    distinct.length * 3 <= cells.length &&
    distinct.every((word) => word !== '' && word.length <= 30)
  )
    return { enum: distinct.sort() }
  return { unique: cells.length >= 3 && distinct.length === cells.length && /(^|_)(code|number|accession|key)$/.test(name) }
}

/** Values that are kept in another form than the file has them, such as `yes` as true. */
export interface Altered {
  field: string
  records: number
  /** The first of them. */
  from: string
  to: Value
}

/**
 * The records of the file, for the table as it was corrected.
 * @param columns from inferTable, with the fields as they are named now; a column without a field is left out
 * @throws HookError project/bad-csv naming line and column of the first value that does not fit
 */
export function recordsFrom(
  file: string,
  text: string,
  columns: readonly { header: string; field: string | null }[],
  table: Table,
): { records: RecordValues[]; altered: Altered[] } {
  const { header, rows, csv } = read(file, text)
  const altered = new Map<string, Altered>()
  const places = columns
    .filter((each) => each.field !== null)
    .map((each) => ({ ...each, at: header.indexOf(each.header), known: table.fields.find((field) => field.name === each.field) }))
  const records = rows.map((cells, index) => {
    const record: Record<string, Value> = Object.fromEntries(table.fields.map((field) => [field.name, null]))
    record['id'] = index + 1
    for (const { at, field, known, header: column } of places) {
      const cell = cells[at] ?? ''
      if (cell === '' && (known?.type !== 'string' || !csv.quoted(index + 1, at))) continue
      const value = field === 'id' ? (isIntegerText(cell) ? Number(cell) : undefined) : known && convert(cell, known)
      if (value === undefined)
        throw new HookError('project/bad-csv', {
          file,
          line: csv.lineOf(index + 1),
          field: field!,
          detail: `column ${column}: ${gotOf(cell)} does not fit ${field}`,
        })
      record[field!] = value
      if (String(value) === cell) continue
      const before = altered.get(field!)
      if (before) before.records++
      else altered.set(field!, { field: field!, records: 1, from: cell, to: value })
    }
    return record as RecordValues
  })
  return { records, altered: [...altered.values()] }
}
