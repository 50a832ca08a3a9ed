import type { CsvColumns, CsvMapping, Files, ImportPlan, InputRow } from '@patient-hook/contract'
import { MOST_ROWS } from '@patient-hook/contract/limits'
import { HookError } from '../../errors.js'
import { csvColumns, csvInputs, openCsv } from '../../model/csv-inputs.js'
import { tableNamed } from '../../model/table-named.js'
import { parseTable, tableNameOf } from '../../model/table-file.js'
import { missingFields as missing } from '../../release/gone-fields.js'
import { mappedRows } from '../csv-reading.js'
import { onGround } from '../ground.js'
import type { OpenProject } from '../open-project.js'

/** What comes in from outside: which tables and fields hooks need, and rows of CSV files. */

/** Told also of files that cannot be loaded together. */
export function missingFields(_: OpenProject, files: Files, plugins: string[]): ImportPlan['needs'] {
  const tables = Object.entries(files)
    .filter(([path]) => path.startsWith('tables/'))
    .map(([path, text]) => [tableNameOf(path), parseTable(path, text)] as const)
  return missing(files, new Map(tables), (plugin) => plugins.includes(plugin))
}

/** What a file's columns may be read as. @throws HookError project/unknown-table or project/bad-csv with file and line */
export const readCsvColumns = (open: OpenProject, name: string, file: string, text: string): CsvColumns =>
  csvColumns(openCsv(file, text), tableNamed(open.runtimes.saved.project.tables, name))

/** @throws HookError project/unknown-table, csv/bad-mapping, or project/bad-csv with file and line */
export function readCsvRows(open: OpenProject, name: string, file: string, text: string, mapping: CsvMapping | null): InputRow[] {
  const csv = openCsv(file, text)
  return onGround(open, open.runtimes.saved, {}, (environment) => {
    const table = tableNamed(environment.project.tables, name)
    const rows = mapping ? mappedRows(environment, csv, table, mapping) : csvInputs(csv, table)
    if (rows.length === 0) throw new HookError('request/bad', { detail: `${file} has no row below its header` })
    if (rows.length > MOST_ROWS)
      throw new HookError('request/bad', { detail: `${file} has ${rows.length} rows, but a save takes ${MOST_ROWS} at most` })
    return rows
  })
}
