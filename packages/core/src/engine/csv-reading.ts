import type { CsvMapping } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import type { CsvText } from '../formats/csv.js'
import { csvInputs, type CsvRows } from '../model/csv-inputs.js'
import { quote } from '../model/ddl.js'
import type { ColumnUse } from '../model/record-files.js'
import { tableNamed } from '../model/table-named.js'
import type { Table } from '../model/types.js'
import type { SaveEnvironment } from '../save/save.js'
import { fieldOf } from '../store/where.js'

/** Rows of a CSV file from elsewhere: its columns as the fields they are read as, links found by what people call the record. */

/** @param partial rows that cannot be read are left out @throws HookError project/bad-csv with file and line, csv/bad-mapping, hook/unknown-field */
export function mappedRows(
  { project, store }: SaveEnvironment,
  csv: CsvText,
  table: Table,
  mapping: CsvMapping,
  partial: boolean,
): CsvRows {
  const [header = [], ...rows] = csv.rows
  const bad = (detail: string) => new HookError('csv/bad-mapping', { file: csv.file, table: table.name, detail })
  for (const head of Object.keys(mapping)) if (!header.includes(head)) throw bad(`the file has no column ${head}`)
  const uses: Record<string, ColumnUse | null> = {}
  for (const [head, use] of Object.entries(mapping)) {
    if (!use?.by) {
      uses[head] = use && { field: use.field }
      continue
    }
    const field = fieldOf(table, use.field)
    if (field === 'id' || !field.link) throw bad(`${use.field} is no link, so that ${head} cannot name a record by ${use.by}`)
    const target = tableNamed(project.tables, field.link.table)
    fieldOf(target, use.by)
    const column = header.indexOf(head)
    const texts = [...new Set(rows.map((cells) => (cells[column] ?? '').trim()))].filter((text) => text !== '')
    const sql = `SELECT CAST(${quote(use.by)} AS TEXT), "id" FROM ${quote(target.name)}
      WHERE CAST(${quote(use.by)} AS TEXT) IN (SELECT value FROM json_each(?)) ORDER BY "id"`
    const records = new Map<string, number[]>()
    for (const [text, id] of store.rows(sql, JSON.stringify(texts)) as [string, number][])
      records.set(text, [...(records.get(text) ?? []), id])
    uses[head] = { field: use.field, named: { by: use.by, records } }
  }
  if (Object.values(uses).every((use) => use === null)) throw bad('no column is read as a field')
  return csvInputs(csv, table, { columns: uses, partial })
}
