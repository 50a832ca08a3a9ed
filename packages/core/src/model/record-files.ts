import { stringify } from 'csv-stringify/sync'
import { HookError } from '../errors.js'
import { CsvText } from '../formats/csv.js'
import { fitsType, expectedOf, gotOf } from './values.js'
import { fieldHint } from './names.js'
import type { Field, RecordValues, Table, Value } from './types.js'

/** Records as RFC 4180 CSV with a header row. An unquoted empty cell is null, a quoted one ("") is empty text. */

const NUMBER = /^-?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i

function toValue(field: Field | 'id', text: string, quoted: () => boolean): unknown {
  if (text === '') return field !== 'id' && field.type === 'string' && quoted() ? '' : null
  if (field === 'id' || field.type === 'integer' || field.type === 'number') return NUMBER.test(text.trim()) ? Number(text) : text
  if (field.type === 'boolean') return text === 'true' || text === '1' ? true : text === 'false' || text === '0' ? false : text
  return text
}

/** @throws HookError naming file and line. */
export function readCsv(file: string, text: string, table: Table): RecordValues[] {
  const csv = new CsvText(file, text)
  const [header, ...rows] = csv.rows
  if (!header) return []
  const fields = header.map((name) => {
    if (name === 'id') return 'id' as const
    const field = table.fields.find((each) => each.name === name)
    if (!field)
      throw new HookError('project/bad-csv', {
        file,
        line: 1,
        field: name,
        detail: `table ${table.name} has no field ${name}${fieldHint(name, table)}`,
      })
    return field
  })
  return rows.map((cells, index) => {
    const fail = (detail: string, field?: string) =>
      new HookError('project/bad-csv', { file, line: csv.lineOf(index + 1), field, detail })
    if (cells.length !== fields.length) throw fail(`the header has ${fields.length} columns, this row ${cells.length}`)
    const values: Record<string, unknown> = {}
    fields.forEach((field, column) => {
      values[field === 'id' ? 'id' : field.name] = toValue(field, cells[column]!, () => csv.quoted(index + 1, column))
    })
    return checkRecord(values, table, index, fail)
  })
}

/** @throws HookError naming file and record. */
export function readJsonRecords(file: string, records: unknown, table: Table): RecordValues[] {
  if (!Array.isArray(records)) throw new HookError('project/bad-file', { file, path: '/', detail: 'expected a list of records' })
  return records.map((record, index) => {
    const fail = (detail: string, field?: string) => new HookError('project/bad-record', { file, row: index + 1, field, detail })
    if (record === null || typeof record !== 'object' || Array.isArray(record)) throw fail('expected an object')
    return checkRecord(record as Record<string, unknown>, table, index, fail)
  })
}

const names = new WeakMap<Table, ReadonlySet<string>>()

function namesOf(table: Table): ReadonlySet<string> {
  let known = names.get(table)
  if (!known) names.set(table, (known = new Set(['id', ...table.fields.map((field) => field.name)])))
  return known
}

function checkRecord(
  source: Record<string, unknown>,
  table: Table,
  index: number,
  fail: (detail: string, field?: string) => HookError,
): RecordValues {
  const values: Record<string, Value> = {}
  const id = source['id'] ?? index + 1
  if (!Number.isSafeInteger(id) || (id as number) < 1) throw fail(`id takes a whole number from 1, but got ${gotOf(id)}`, 'id')
  const known = namesOf(table)
  for (const name of Object.keys(source))
    if (!known.has(name)) throw fail(`table ${table.name} has no field ${name}${fieldHint(name, table)}`, name)
  for (const field of table.fields) {
    const value = source[field.name] ?? null
    if (!fitsType(field, value)) throw fail(`${field.name} takes ${expectedOf(field)}, but got ${gotOf(value)}`, field.name)
    values[field.name] = value
  }
  return { ...values, id: id as number }
}

/** Writes records with a header row; null is an empty cell, empty text a quoted one. */
export function writeCsv(table: Table, records: Iterable<RecordValues>): string {
  const columns = ['id', ...table.fields.map((field) => field.name)]
  const rows = [...records].map((record) => columns.map((column) => record[column] ?? null))
  // Null and empty text must stay apart: the writer leaves null empty and quotes empty text.
  return stringify([columns, ...rows], { cast: { boolean: (value: boolean) => String(value) }, quoted_match: /^$/ })
}
