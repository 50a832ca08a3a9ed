import type { CsvColumns, CsvMapping, Files, ImportPlan, SavedRecord } from '@patient-hook/contract'
import { MOST_CSV_ROWS } from '@patient-hook/contract/limits'
import { HookError } from '../../errors.js'
import { csvColumns, csvInputs, openCsv, type CsvRows } from '../../model/csv-inputs.js'
import { tableNamed } from '../../model/table-named.js'
import { parseTable, tableNameOf } from '../../model/table-file.js'
import { missingFields as missing } from '../../release/gone-fields.js'
import { trySave, type SaveOutcome } from '../../save/save.js'
import type { SaveOptions } from '../../save/types.js'
import { mappedRows } from '../csv-reading.js'
import { onGround } from '../ground.js'
import type { OpenProject } from '../open-project.js'
import { savedCounts, saveStory, type SavedCounts } from '../save-log.js'

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

/**
 * @param partial rows that cannot be read are left out, and told
 * @throws HookError project/unknown-table, csv/bad-mapping, or project/bad-csv with file and line
 */
export function readCsvRows(
  open: OpenProject,
  name: string,
  file: string,
  text: string,
  mapping: CsvMapping | null,
  partial: boolean,
): CsvRows {
  const csv = openCsv(file, text)
  return onGround(open, open.runtimes.saved, {}, (environment) => {
    const table = tableNamed(environment.project.tables, name)
    const read = mapping ? mappedRows(environment, csv, table, mapping, partial) : csvInputs(csv, table, { partial })
    const count = read.rows.length + read.left
    if (count === 0) throw new HookError('request/bad', { detail: `${file} has no row below its header` })
    if (count > MOST_CSV_ROWS)
      throw new HookError('request/bad', {
        detail: `${file} has ${count} rows, but a save takes ${MOST_CSV_ROWS} of a file at most; split it`,
      })
    return read
  })
}

/** What a save of a file's rows would do. */
export interface TriedRows {
  /** What was read, but for the rows themselves. */
  read: Omit<CsvRows, 'rows'> & { rows: number }
  outcome: Pick<SaveOutcome, 'save' | 'refusals' | 'sent' | 'error'>
  counts: SavedCounts
  records: SavedRecord[]
}

const NOTHING: Pick<TriedRows, 'counts' | 'records'> = { counts: { created: 0, changed: 0, ripples: 0 }, records: [] }

/**
 * Saves a file's rows on a copy of the records, and rolls that back once its history has been read, as for the save itself,
 * however many rows there are.
 * @throws HookError as readCsvRows does
 */
export function tryCsvRows(
  open: OpenProject,
  name: string,
  file: string,
  text: string,
  mapping: CsvMapping | null,
  { user, partial }: Pick<SaveOptions, 'user' | 'partial'>,
): TriedRows {
  const { rows, ...others } = readCsvRows(open, name, file, text, mapping, partial ?? false)
  const read = { ...others, rows: rows.length }
  if (rows.length === 0) return { read, outcome: { save: null, refusals: [], sent: [], error: null }, ...NOTHING }
  const code = open.codeOnCopy()
  return onGround(open, code.for(user), {}, ({ project, program, store }) =>
    store.transaction(() => {
      const { save, refusals, sent, error } = trySave({ project, program, store, switches: code.switches }, rows, {
        user,
        partial,
      })
      const told = save === null ? NOTHING : { counts: savedCounts(store, save), records: saveStory(store, save).records }
      return { value: { read, outcome: { save: null, refusals, sent, error }, ...told }, keep: false }
    }),
  )
}
