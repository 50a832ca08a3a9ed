import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { HookError } from '../errors.js'
import { CsvText, delimiterOf } from '../formats/csv.js'
import { encodingProblem } from '../formats/encoding.js'
import { isIntegerText, isNumberText } from '../model/infer-table.js'
import { JsonFile } from '../model/json-file.js'
import { plainColumn, type AdoptionNote, type Source, type SourceLink, type SourceTable, type SourceValue } from './source.js'

/** Reads a folder with one CSV or JSON file for each table. What is nowhere said is inferred: types, keys, and links between the files. */

/** @throws HookError adopt/bad-source, or project/bad-csv with file and line */
export function readDataFolder(folder: string): Source {
  const files = existsSync(folder)
    ? readdirSync(folder)
        .filter((file) => /\.(csv|json)$/i.test(file))
        .sort()
    : []
  if (files.length === 0)
    throw new HookError('adopt/bad-source', { file: folder, detail: 'the folder holds no .csv or .json file' })
  const notes: AdoptionNote[] = []
  const tables = files.map((file): SourceTable => {
    const bytes = readFileSync(join(folder, file))
    const problem = encodingProblem(bytes)
    if (problem !== null) throw new HookError('adopt/bad-source', { file, detail: problem })
    const name = file.replace(/\.(csv|json)$/i, '')
    const text = bytes.toString('utf8').replace(/^\uFEFF/, '')
    const { header, rows } = /\.csv$/i.test(file) ? csvRows(file, text) : jsonRows(file, text, name, notes)
    const filled = (index: number) => rows.every((row) => row[index] !== null)
    return {
      name,
      columns: header.map((column, index) => ({ ...plainColumn(column), required: rows.length > 0 && filled(index) })),
      idColumn: header.find((column, index) => isOwnId(name, column) && isKey(rows, index)) ?? null,
      unique: header.flatMap((column, index) =>
        isCode(column) && rows.length >= 3 && isDistinct(rows, index) ? [[column]] : [],
      ),
      indexed: [],
      links: [],
      rows,
    }
  })
  return { tables: tables.map((table) => ({ ...table, links: linksOf(table, tables) })), notes }
}

/** `id`, or `visit_id` in visits.csv; an id named after another table is a link. */
const isOwnId = (table: string, column: string): boolean => ['id', `${singular(table)}_id`].includes(column.toLowerCase())
const isCode = (column: string): boolean => /(^|[_ ])(code|number|accession|key)$/i.test(column)
const isDistinct = (rows: SourceTable['rows'], index: number): boolean =>
  rows.every((row) => row[index] !== null) && new Set(rows.map((row) => row[index])).size === rows.length
const isKey = (rows: SourceTable['rows'], index: number): boolean =>
  isDistinct(rows, index) && rows.every((row) => Number.isSafeInteger(row[index]) && (row[index] as number) >= 1)

interface Rows {
  header: string[]
  rows: SourceValue[][]
}

function csvRows(file: string, text: string): Rows {
  const csv = new CsvText(file, text, delimiterOf(text))
  const [header = [], ...lines] = csv.rows
  const fail = (row: number, detail: string) => new HookError('project/bad-csv', { file, line: csv.lineOf(row), detail })
  if (header.length === 0) throw fail(0, 'the file is empty: a header row is needed')
  header.forEach((column, index) => {
    if (column.trim() === '') throw fail(0, `column ${index + 1} has no header`)
    if (header.indexOf(column) < index) throw fail(0, `two columns are headed ${column}`)
  })
  lines.forEach((cells, index) => {
    if (cells.length !== header.length) throw fail(index + 1, `the header has ${header.length} columns, this row ${cells.length}`)
  })
  const rows: SourceValue[][] = lines.map((cells, row) =>
    cells.map((cell, column) => (cell === '' && !csv.quoted(row + 1, column) ? null : cell)),
  )
  header.forEach((_, column) => {
    const read = readerOf(rows.map((row) => row[column] as string | null).filter((cell) => cell !== null))
    for (const row of rows) if (row[column] !== null) row[column] = read(row[column] as string)
  })
  return { header: [...header], rows }
}

/** What all cells of a column are. Text that would come back otherwise, such as 007, stays text. */
function readerOf(cells: readonly string[]): (cell: string) => SourceValue {
  if (cells.length > 0 && (cells.every(isIntegerText) || cells.every(isNumberText))) return Number
  if (cells.length > 0 && cells.every((cell) => /^(true|false|yes|no)$/i.test(cell))) return (cell) => /^(true|yes)$/i.test(cell)
  return (cell) => cell
}

function jsonRows(file: string, text: string, table: string, notes: AdoptionNote[]): Rows {
  const json = new JsonFile(file, text)
  if (!Array.isArray(json.value)) throw json.wrong([], 'expected a list of records')
  const records = json.value.map((record: unknown, index) => {
    if (record === null || typeof record !== 'object' || Array.isArray(record)) throw json.wrong([index], 'expected an object')
    return record as Record<string, unknown>
  })
  const header = [...new Set(records.flatMap((record) => Object.keys(record)))]
  if (header.length === 0) throw json.wrong([], 'expected records with fields')
  const nested = new Set<string>()
  const valueOf = (name: string, value: unknown): SourceValue => {
    if (value === null || value === undefined) return null
    if (typeof value !== 'object') return value as SourceValue
    nested.add(name)
    return JSON.stringify(value)
  }
  const rows = records.map((record) => header.map((name) => valueOf(name, Object.hasOwn(record, name) ? record[name] : null)))
  for (const name of nested) notes.push({ about: table, column: name, detail: 'lists and objects are kept as JSON text' })
  return { header, rows }
}

/** `customers` and `customer` are the same to who names a column `customer_id`. */
const singular = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/ies$/, 'y')
    .replace(/(?<=[^s])s$/, '')

/** Columns named after another table that hold nothing but keys of it. */
function linksOf(table: SourceTable, tables: readonly SourceTable[]): SourceLink[] {
  return table.columns.flatMap(({ name }, index): SourceLink[] => {
    if (name === table.idColumn) return []
    const values = table.rows.map((row) => row[index]).filter((value) => value !== null)
    if (values.length === 0) return []
    const plain = name.toLowerCase().replace(/[^a-z0-9]+/g, '_')
    for (const target of tables) {
      const keys = [
        ...(target.idColumn === null ? [] : [target.idColumn]),
        ...target.unique.flatMap((set) => (set.length === 1 ? set : [])),
      ]
      const to = keys.find((key) => {
        const known = new Set(target.rows.map((row) => row[target.columns.findIndex((column) => column.name === key)]))
        const word = key.toLowerCase().replace(/[^a-z0-9]+/g, '_')
        const named = singular(target.name)
        const fits = [named, `${named}_id`, `${named}_${word}`, ...(word.startsWith(named) ? [word] : [])]
        return [plain, singular(plain)].some((each) => fits.includes(each)) && values.every((value) => known.has(value))
      })
      if (to !== undefined && !(target === table && to === name))
        return [{ column: name, table: target.name, to, onDelete: 'refuse' }]
    }
    return []
  })
}
