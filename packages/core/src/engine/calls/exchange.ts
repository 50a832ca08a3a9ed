import type { Files, ImportPlan, InputRow } from '@patient-hook/contract'
import { csvInputs } from '../../model/csv-inputs.js'
import { tableNamed } from '../../model/table-named.js'
import { parseTable, tableNameOf } from '../../model/table-file.js'
import { missingFields as missing } from '../../release/gone-fields.js'
import type { OpenProject } from '../open-project.js'

/** What comes in from outside: which tables and fields hooks need, and rows of CSV files. */

/** Told also of files that cannot be loaded together. */
export function missingFields(_: OpenProject, files: Files, plugins: string[]): ImportPlan['needs'] {
  const tables = Object.entries(files)
    .filter(([path]) => path.startsWith('tables/'))
    .map(([path, text]) => [tableNameOf(path), parseTable(path, text)] as const)
  return missing(files, new Map(tables), (plugin) => plugins.includes(plugin))
}

/** @throws HookError project/unknown-table or project/bad-csv with file and line */
export function readCsvRows(open: OpenProject, name: string, file: string, text: string): InputRow[] {
  return csvInputs(file, text, tableNamed(open.runtimes.saved.project.tables, name))
}
