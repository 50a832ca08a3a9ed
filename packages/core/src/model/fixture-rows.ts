import type { FixtureFault, FixtureRow, FixtureTable } from '@patient-hook/contract'
import { CsvText, delimiterOf } from '../formats/csv.js'
import { HookError } from '../errors.js'
import { JsonFile } from './json-file.js'
import { checkTables } from './record-checks.js'
import { checkIds, checkRecord, toValue, writeCsv } from './record-files.js'
import type { Field, RecordValues, Table, Value } from './types.js'

/**
 * The records of a fixture set as rows that are being edited: what does not fit its field stays as it was typed, and is reported with its
 * row and field, instead of keeping the whole set from being read.
 */

type Files = ReadonlyMap<string, string>

const fileOf = (files: Files, set: string, table: string): string | undefined =>
  [`fixtures/${set}/${table}.csv`, `fixtures/${set}/${table}.json`].find((path) => files.has(path))

/** Every table of a set, of those that have a file. Tables of the project that the set has not are not among them. */
export function readFixtureRows(files: Files, set: string, tables: Iterable<Table>): FixtureTable[] {
  return [...tables].flatMap((table) => {
    const file = fileOf(files, set, table.name)
    return file === undefined ? [] : [{ table: table.name, file, ...rowsIn(file, files.get(file)!, table) }]
  })
}

function rowsIn(file: string, text: string, table: Table): Pick<FixtureTable, 'rows' | 'unread'> {
  try {
    return file.endsWith('.csv') ? csvRows(file, text, table) : { rows: jsonRows(file, text, table), unread: null }
  } catch (error) {
    // Text that is neither CSV nor JSON cannot be shown in a grid, and must not be written over.
    if (!HookError.is(error)) throw error
    return { rows: [], unread: error.report }
  }
}

const csvRows = (file: string, text: string, table: Table): Pick<FixtureTable, 'rows' | 'unread'> => ({
  rows: rowsOfCsv(file, new CsvText(file, text), table, ({ name }, head) => name === head),
  unread: null,
})

/** Rows of a CSV file from elsewhere: any delimiter that it comes out even with, columns headed by names or labels. */
export function importedRows(file: string, text: string, table: Table): FixtureRow[] {
  const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase()
  const csv = new CsvText(file, text, delimiterOf(text))
  return rowsOfCsv(file, csv, table, ({ name, label }, head) => same(name, head) || same(label, head))
}

/** @throws HookError where a column belongs to no field, or two to one */
function rowsOfCsv(file: string, csv: CsvText, table: Table, heads: (field: Field, head: string) => boolean): FixtureRow[] {
  const [header = [], ...rows] = csv.rows
  const wrong = (head: string, detail: string) =>
    new HookError('project/bad-csv', { file, line: csv.lineOf(0), field: head, detail })
  const fields = header.map((head) => {
    if (head.trim() === 'id') return 'id' as const
    const field = table.fields.find((each) => heads(each, head))
    if (!field) throw wrong(head, `table ${table.name} has no field ${head}: its column would be lost`)
    return field
  })
  const twice = fields.findIndex((field, at) => fields.indexOf(field) < at)
  if (twice >= 0) throw wrong(header[twice]!, `two columns are headed ${header[twice]!}: one would be lost`)
  const long = rows.findIndex((cells) => cells.length > header.length)
  if (long >= 0)
    throw new HookError('project/bad-csv', {
      file,
      line: csv.lineOf(long + 1),
      detail: `the header has ${header.length} columns, this row ${rows[long]!.length}`,
    })
  return rows.map((cells, index) =>
    Object.fromEntries(
      fields.map((field, at) => [
        field === 'id' ? 'id' : field.name,
        toValue(field, cells[at] ?? '', () => csv.quoted(index + 1, at)) as Value,
      ]),
    ),
  )
}

function jsonRows(file: string, text: string, table: Table): FixtureRow[] {
  const json = new JsonFile(file, text)
  if (!Array.isArray(json.value)) throw json.wrong([], 'expected a list of records')
  const [altered] = json.alteredNumbers()
  if (altered) throw json.wrong(altered.path, `${altered.text} is more than a number can hold: it would be altered`)
  return json.value.map((record: unknown, index) => {
    if (record === null || typeof record !== 'object' || Array.isArray(record)) throw json.wrong([index], 'expected an object')
    const nested = Object.entries(record).find(([, value]) => value !== null && typeof value === 'object')
    if (nested) throw json.wrong([index, nested[0]], 'expected text, a number, true, false or null')
    const strange = Object.keys(record).find((name) => name !== 'id' && !table.fields.some((field) => field.name === name))
    if (strange !== undefined) throw json.wrong([index, strange], `table ${table.name} has no field ${strange}: it would be lost`)
    return record as FixtureRow
  })
}

/** More are not told of one table. */
const MOST_FAULTS = 500

/** What is wrong with the rows of a set, as a save would say it. */
export function fixtureFaults(tables: readonly FixtureTable[], known: ReadonlyMap<string, Table>): FixtureFault[] {
  const faults: FixtureFault[] = []
  const say = (table: string, row: number, field: string | undefined, message: string) => {
    const of = faults.filter((fault) => fault.table === table)
    // One fault of a cell is enough: that it is of the wrong type goes before what follows from it.
    if (of.length < MOST_FAULTS && !of.some((fault) => fault.row === row && fault.field === (field ?? null)))
      faults.push({ table, row, field: field ?? null, message })
  }
  const checked = tables.flatMap((each) => {
    const table = known.get(each.table)
    if (!table || each.unread) return []
    const records = each.rows.map((row, index) =>
      checkRecord(row, table, index, (at, message, field) => say(table.name, at, field, message)),
    )
    checkIds(records, (at, message) => say(table.name, at, 'id', message))
    return [{ table, records }]
  })
  checkTables(
    checked,
    (_, index) => `row ${index + 1}`,
    ({ table }, index, field, message) => say(table.name, index, field, message),
  )
  return faults
}

/** The rows as the text of a file, in the form that its name says. What does not fit is written as it was typed. */
export function fixtureText(file: string, table: Table, rows: readonly FixtureRow[]): string {
  const records = rows.map((row, index) => ({ ...row, id: row['id'] ?? index + 1 })) as RecordValues[]
  if (file.endsWith('.csv')) return writeCsv(table, records)
  const lines = records.map((record) => {
    const names = ['id', ...table.fields.map(({ name }) => name)].filter((name) => (record[name] ?? null) !== null)
    return `  ${JSON.stringify(Object.fromEntries(names.map((name) => [name, record[name]])))}`
  })
  return lines.length === 0 ? '[]\n' : `[\n${lines.join(',\n')}\n]\n`
}
