import { stringify } from 'csv-stringify/sync'
import { HookError, report, type ErrorReport } from '../errors.js'
import { CsvText } from '../formats/csv.js'
import { numberIn } from './decimals.js'
import { Faults } from './faults.js'
import { JsonFile } from './json-file.js'
import { fieldHint } from './names.js'
import type { Field, RecordValues, Table, Value } from './types.js'
import { expectedOf, fitsType, gotOf, isText, keptForm } from './values.js'

/** Records as RFC 4180 CSV with a header row. An unquoted empty cell is null, a quoted one ("") is empty text. */

/** Faults of one file that are reported. */
const MOST = 50

/** Told of what is wrong with a record. @param index from 0 */
export type Say = (index: number, detail: string, field?: string) => void

/** A cell as the field would have it; text that would be altered by it stays text, and so does not fit. */
export function toValue(field: Field | 'id', text: string, quoted: () => boolean): unknown {
  if (text === '') return field !== 'id' && field.type === 'string' && quoted() ? '' : null
  if (field === 'id' || field.type === 'integer' || field.type === 'number') return numberIn(text.trim()) ?? text
  if (field.type === 'boolean') return text === 'true' || text === '1' ? true : text === 'false' || text === '0' ? false : text
  return text
}

const isId = (id: unknown): boolean => Number.isSafeInteger(id) && (id as number) >= 1
const neverQuoted = () => false
const emptyValue = (field: Field | 'id', csv: CsvText, row: number, column: number): unknown =>
  toValue(field, '', () => csv.quoted(row, column))

/** What a record without an id is given where it is to get one later: such an id is nobody's. */
const NOBODYS = 2 ** 52

/** What a column of a file from elsewhere is read as. */
export interface ColumnUse {
  /** A field's name, or id. */
  field: string
  /** Of a link whose cells hold what people call the record: by which field of its table, and which records that is, by the cell's text. */
  named?: { by: string; records: ReadonlyMap<string, readonly number[]> }
}
/** Rows that cannot be read, where the others are wanted all the same. */
export interface UnreadableRows {
  /** From 0. */
  rows: Set<number>
  /** What is wrong with each of the first so many. */
  reports: ErrorReport[]
}
export interface CsvReading {
  /** Is added to, instead of an error that is thrown for a row; its record is nothing then. */
  unreadable?: UnreadableRows
  /** Records without an id get a stand-their own in, above all that are given; default: their number in the file. */
  openIds?: boolean
  /** By a column's head; null: it is left out. Default: the head is the field's name. */
  columns?: Readonly<Record<string, ColumnUse | null>>
}

/** @throws HookError project/bad-csv naming file and line of the first fault, the rest under `others` */
export function readCsv(file: string, text: string, table: Table, reading: CsvReading = {}): RecordValues[] {
  return readCsvText(new CsvText(file, text), table, reading)
}

/** @throws HookError project/bad-csv naming file and line of the first fault, the rest under `others` */
export function readCsvText(csv: CsvText, table: Table, { openIds = false, columns, unreadable }: CsvReading): RecordValues[] {
  const { file } = csv
  const [header, ...rows] = csv.rows
  if (!header) return []
  const faults = new Faults()
  let told = 0
  const say = (line: number, detail: string, field?: string) => {
    if (told++ < MOST) faults.note(new HookError('project/bad-csv', { file, line, field, detail }))
  }
  const uses = header.map((head): ColumnUse | null => (columns ? (columns[head] ?? null) : { field: head }))
  const fields = uses.map((use, column) => {
    const head = header[column]!
    if (header.indexOf(head) < column) say(csv.lineOf(0), `two columns are headed ${head}`, head)
    if (!use) return null
    const name = use.field
    const other = uses.findIndex((each) => each?.field === name)
    if (other < column && header[other] !== head)
      say(csv.lineOf(0), `${header[other]} and ${head} would both be read as ${name}`, head)
    if (name === 'id') return 'id' as const
    const field = table.fields.find((each) => each.name === name)
    if (!field) say(csv.lineOf(0), `table ${table.name} has no field ${name}${fieldHint(name, table)}`, name)
    return field
  })
  if (!faults.none) faults.throwIfAny()
  const valueAt = (cells: readonly string[], index: number, column: number, sayOf: Say): unknown => {
    const field = fields[column]!
    const cell = cells[column] ?? ''
    const named = uses[column]!.named
    if (named && field !== 'id') return linked(field, cell.trim(), named, (detail) => sayOf(index, detail, field.name))
    return cell === '' ? emptyValue(field, csv, index + 1, column) : toValue(field, cell, neverQuoted)
  }
  const sayOf: Say = (index, detail, field) => {
    if (!unreadable) return say(csv.lineOf(index + 1), detail, field)
    if (unreadable.rows.has(index)) return
    unreadable.rows.add(index)
    if (unreadable.reports.length >= MOST) return
    unreadable.reports.push(report('project/bad-csv', { file, line: csv.lineOf(index + 1), row: index + 1, field, detail }))
  }
  const plains = fields.map((field, column) => (field && field !== 'id' && !uses[column]!.named ? plainReader(field) : null))
  // With an id, which is not added then: that would take V8 longer than all the rest (measured: bench/NOTES.md).
  const blank: Record<string, Value> = { ...Object.fromEntries(table.fields.map(({ name }) => [name, null])), id: null }
  const records = rows.map((cells, index) => {
    if (cells.length !== fields.length) sayOf(index, `the header has ${fields.length} columns, this row ${cells.length}`)
    const record = { ...blank }
    let id: unknown = null
    /** What does not fit its field; then all of the row is looked at in words. */
    let unfit: Record<string, unknown> | null = null
    for (let column = 0; column < fields.length; column++) {
      const field = fields[column]
      if (!field) continue
      const plain = plains[column]?.(cells[column]!)
      if (plain !== undefined) {
        record[(field as Field).name] = plain
        continue
      }
      const value = valueAt(cells, index, column, sayOf)
      if (field === 'id') id = value
      else if (fitsType(field, value)) record[field.name] = keptForm(field, value)
      else (unfit ??= {})[field.name] = value
    }
    if (openIds) id ??= NOBODYS + index
    if (unfit || (id !== null && !isId(id))) return checkRecord({ ...record, ...unfit, id }, table, index, sayOf)
    record['id'] = (id as number | null) ?? index + 1
    return record as RecordValues
  })
  checkIds(records, (index, detail) => sayOf(index, detail, 'id'), unreadable?.rows)
  faults.throwIfAny()
  return records
}

/** Reads what most cells of a field hold; undefined where there is more to be looked at. */
function plainReader({ type, format, enum: choices }: Field): ((cell: string | undefined) => Value | undefined) | null {
  if (choices || format || type === 'boolean') return null
  if (type === 'string') return (cell) => (cell && isText(cell) ? cell : undefined)
  if (type === 'number') return (cell) => (cell ? numberIn(cell) : undefined)
  return (cell) => {
    const value = cell ? numberIn(cell) : undefined
    return Number.isSafeInteger(value) ? value : undefined
  }
}

/** The record that a cell names; null where it is empty or names none. */
function linked(
  field: Field,
  text: string,
  { by, records }: NonNullable<ColumnUse['named']>,
  say: (detail: string) => void,
): Value {
  if (text === '') return null
  const ids = records.get(text) ?? []
  const table = field.link!.table
  if (ids.length === 0) say(`${field.name}: no record of ${table} has the ${by} ${JSON.stringify(text)}`)
  if (ids.length > 1)
    say(`${field.name}: ${ids.length} records of ${table} have the ${by} ${JSON.stringify(text)}: ${ids.slice(0, 5).join(', ')}`)
  return ids.length === 1 ? ids[0]! : null
}

/** @throws HookError naming file, line and record of the first fault, the rest under `others` */
export function readJsonRecords(file: string, text: string, table: Table): RecordValues[] {
  const json = new JsonFile(file, text)
  if (!Array.isArray(json.value)) throw json.wrong([], 'expected a list of records')
  const faults = new Faults()
  let told = 0
  const say: Say = (index, detail, field) => {
    if (told++ >= MOST) return
    const line = json.lineOf(field === undefined ? [index] : [index, field])
    faults.note(new HookError('project/bad-record', { file, line, row: index + 1, field, detail }))
  }
  for (const { path, text: written } of json.alteredNumbers())
    say(Number(path[0]), `${String(path[1])} is written as ${written}, of which a number cannot hold all`, String(path[1]))
  const records = json.value.map((record: unknown, index) => {
    const isRecord = record !== null && typeof record === 'object' && !Array.isArray(record)
    if (!isRecord) say(index, `expected an object, but got ${gotOf(record)}`)
    return checkRecord(isRecord ? (record as Record<string, unknown>) : {}, table, index, isRecord ? say : () => {})
  })
  checkIds(records, (index, detail) => say(index, detail, 'id'))
  faults.throwIfAny()
  return records
}

/** No id twice. @param leftOut records that are not looked at */
export function checkIds(
  records: readonly RecordValues[],
  say: (index: number, detail: string) => void,
  leftOut: ReadonlySet<number> = new Set(),
): void {
  let last = 0
  // Mostly they rise.
  if (records.every(({ id }) => id > last && (last = id) > 0)) return
  const ids = new Set<number>()
  for (const [index, { id }] of records.entries()) {
    if (leftOut.has(index)) continue
    if (ids.has(id)) say(index, `id ${id} stands twice`)
    ids.add(id)
  }
}

const names = new WeakMap<Table, ReadonlySet<string>>()

function namesOf(table: Table): ReadonlySet<string> {
  let known = names.get(table)
  if (!known) names.set(table, (known = new Set(['id', ...table.fields.map((field) => field.name)])))
  return known
}

/** Names and types of a record's values. @returns the record, with null for what does not fit */
export function checkRecord(source: Record<string, unknown>, table: Table, index: number, say: Say): RecordValues {
  const values: Record<string, Value> = {}
  const id = source['id'] ?? index + 1
  if (!isId(id)) say(index, `id takes a whole number from 1, but got ${gotOf(id)}`, 'id')
  const known = namesOf(table)
  for (const name in source)
    if (!known.has(name)) say(index, `table ${table.name} has no field ${name}${fieldHint(name, table)}`, name)
  for (const field of table.fields) {
    const value = source[field.name] ?? null
    if (fitsType(field, value)) values[field.name] = keptForm(field, value)
    else say(index, `${field.name} takes ${expectedOf(field)}, but got ${gotOf(value)}`, field.name)
  }
  values['id'] = id as number
  return values as RecordValues
}

/** What spreadsheets take for a formula: the list of OWASP's "CSV Injection". */
const FORMULA = /^[=+\-@\t\r]/

/**
 * Writes records with a header row; null is an empty cell, empty text a quoted one.
 * @param safe text that a spreadsheet would run as a formula gets an apostrophe before it, and is another text when it is imported again
 */
export function writeCsv(table: Table, records: Iterable<RecordValues>, safe = false): string {
  const columns = ['id', ...table.fields.map((field) => field.name)]
  const shown = (value: Value): Value => (safe && typeof value === 'string' && FORMULA.test(value) ? `'${value}` : value)
  const rows = [...records].map((record) => columns.map((column) => shown(record[column] ?? null)))
  // Null and empty text must stay apart: the writer leaves null empty and quotes empty text.
  return stringify([columns, ...rows], { cast: { boolean: (value: boolean) => String(value) }, quoted_match: /^$/ })
}
