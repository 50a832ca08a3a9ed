import { MOST_FIELDS, type Inferred } from '@patient-hook/contract'
import { parse } from 'csv-parse/sync'
import { HookError } from '../errors.js'
import { convert } from './convert.js'
import { fieldNameFrom, newField, type FieldEdit } from './table-edit.js'
import type { RecordValues, Table, Value } from './types.js'
import { gotOf, isDate, isDateTime } from './values.js'

/** A table from a CSV file: names from its header, types from its values, to be corrected before it is made. */

export type { Inferred } from '@patient-hook/contract'

interface Sheet {
  header: string[]
  rows: { cells: string[]; line: number }[]
}

const DELIMITERS = [',', ';', '\t']

/** @throws HookError project/bad-csv with file and line */
function read(file: string, text: string): Sheet {
  const first = text.split(/\r?\n/, 1)[0] ?? ''
  const delimiter = DELIMITERS.reduce((best, each) => (first.split(each).length > first.split(best).length ? each : best))
  let found: { record: string[]; info: { lines: number } }[]
  try {
    found = parse(text, { bom: true, info: true, skip_empty_lines: true, delimiter, trim: true }) as unknown as typeof found
  } catch (error) {
    const { message, lines } = error as Error & { lines?: number }
    throw new HookError('project/bad-csv', { file, line: lines ?? 1, detail: message })
  }
  const header = found.shift()?.record
  if (!header) throw new HookError('project/bad-csv', { file, line: 1, detail: 'the file is empty: a header row is needed' })
  if (header.length > MOST_FIELDS)
    throw new HookError('project/bad-csv', {
      file,
      line: 1,
      detail: `the header has ${header.length} columns; a table has at most ${MOST_FIELDS} fields`,
    })
  header.forEach((name, i) => {
    if (name === '') throw new HookError('project/bad-csv', { file, line: 1, detail: `column ${i + 1} has no header` })
    if (header.indexOf(name) < i)
      throw new HookError('project/bad-csv', { file, line: 1, detail: `two columns are headed ${name}` })
  })
  return { header, rows: found.map(({ record, info }) => ({ cells: record, line: info.lines })) }
}

/** @param idsOf the ids that a table has, for links; null for a table that is not there */
export function inferTable(
  name: string,
  file: string,
  text: string,
  idsOf: (table: string) => ReadonlySet<number> | null,
): Inferred {
  const { header, rows } = read(file, text)
  const taken = new Set<string>()
  const columns: Inferred['columns'] = []
  const fields: FieldEdit[] = []
  header.forEach((label, index) => {
    const cells = rows.map((row) => row.cells[index]!).filter((cell) => cell !== '')
    if (label.toLowerCase() === 'id' && cells.length === rows.length && isIds(cells)) {
      columns.push({ header: label, field: 'id' })
      return
    }
    const field = newField(fieldNameFrom(label, taken), label)
    taken.add(field.name)
    columns.push({ header: label, field: field.name })
    fields.push({ ...field, ...typeOf(field.name, cells, idsOf), required: rows.length > 0 && cells.length === rows.length })
  })
  const label = name.charAt(0).toUpperCase() + name.slice(1).replace(/_/g, ' ')
  return { edit: { name, label, help: '', fields }, columns, rows: rows.length }
}

const INTEGER = /^[+-]?(0|[1-9]\d*)$/
const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i
/** Digits that begin with 0 are a code, not a number: 007 would lose its zeros. */
const CODE = /^[+-]?0\d/

const isIds = (cells: readonly string[]): boolean =>
  cells.every((cell) => INTEGER.test(cell) && Number(cell) > 0 && Number.isSafeInteger(Number(cell))) &&
  new Set(cells).size === cells.length

function typeOf(
  name: string,
  cells: readonly string[],
  idsOf: (table: string) => ReadonlySet<number> | null,
): Partial<FieldEdit> {
  if (cells.length === 0) return {}
  const all = (test: (cell: string) => boolean) => cells.every(test)
  if (all((cell) => INTEGER.test(cell) && Number.isSafeInteger(Number(cell)))) {
    const target = name.replace(/_id$/, '')
    const ids = idsOf(target)
    if (ids && all((cell) => ids.has(Number(cell)))) return { type: 'integer', link: { table: target, onDelete: 'refuse' } }
    return { type: 'integer' }
  }
  if (all((cell) => NUMBER.test(cell) && !CODE.test(cell))) return { type: 'number' }
  if (all((cell) => /^(true|false|yes|no)$/i.test(cell))) return { type: 'boolean' }
  if (all(isDate)) return { format: 'date' }
  if (all(isDateTime)) return { format: 'date-time' }
  const distinct = [...new Set(cells)]
  // A handful of words that come again and again are choices.
  if (
    cells.length >= 10 &&
    distinct.length <= 8 &&
    distinct.length * 3 <= cells.length &&
    distinct.every((word) => word.length <= 30)
  )
    return { enum: distinct.sort() }
  return { unique: cells.length >= 3 && distinct.length === cells.length && /(^|_)(code|number|accession|key)$/.test(name) }
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
): RecordValues[] {
  const { header, rows } = read(file, text)
  const places = columns
    .filter((each) => each.field !== null)
    .map((each) => ({ ...each, at: header.indexOf(each.header), known: table.fields.find((field) => field.name === each.field) }))
  return rows.map(({ cells, line }, index) => {
    const record: Record<string, Value> = Object.fromEntries(table.fields.map((field) => [field.name, null]))
    record['id'] = index + 1
    for (const { at, field, known, header: column } of places) {
      const cell = cells[at] ?? ''
      if (cell === '') continue
      const value = field === 'id' ? (INTEGER.test(cell) ? Number(cell) : undefined) : known && convert(cell, known)
      if (value === undefined)
        throw new HookError('project/bad-csv', {
          file,
          line,
          field: field!,
          detail: `column ${column}: ${gotOf(cell)} does not fit ${field}`,
        })
      record[field!] = value
    }
    return record as RecordValues
  })
}
