import { HookError } from '../errors.js'
import { CsvText } from '../formats/csv.js'
import { JsonFile } from './json-file.js'
import type { Field, Project, RecordValues, Table, Value } from './types.js'
import { boundsProblem } from './values.js'

/** Records of a folder (a fixture set, or data/) checked as a save would check them: what is required, bounds, unique values, links. */

interface RecordFile {
  table: Table
  file: string
  text: string
  records: readonly RecordValues[]
}

/** More problems of one file than this are not told. */
const MOST = 50

/** @param folder `data` or `fixtures/<set>`: links lead to records of the same one */
export function recordProblems(project: Project, folder: string): HookError[] {
  const records = folder === 'data' ? project.data : project.fixtures.get(folder.slice('fixtures/'.length))
  return checkFolder(
    [...(records ?? [])].map(([name, all]) => {
      const file = [`${folder}/${name}.csv`, `${folder}/${name}.json`].find((path) => project.files.has(path))!
      return { table: project.tables.get(name)!, file, text: project.files.get(file)!, records: all }
    }),
  )
}

/** Folders with records, of which `changed` names a file; default: all. */
export function recordFolders(project: Project, changed?: readonly string[]): string[] {
  const all = [...(project.data.size > 0 ? ['data'] : []), ...[...project.fixtures.keys()].map((set) => `fixtures/${set}`)]
  return changed ? all.filter((folder) => changed.some((path) => path.startsWith(`${folder}/`))) : all
}

/** @throws HookError the first problem of the folders, the rest under `others` */
export function checkRecords(project: Project, folders: readonly string[]): void {
  const problems = folders.flatMap((folder) => recordProblems(project, folder))
  if (problems.length > 0) throw new HookError({ ...problems[0]!.report, others: problems.slice(1).map((each) => each.report) })
}

function checkFolder(folder: readonly RecordFile[]): HookError[] {
  const told = new Map<RecordFile, HookError[]>()
  for (const each of folder) told.set(each, [])
  checkTables(folder, placeOf, (source, index, field, detail) => {
    const problems = told.get(source)!
    if (problems.length < MOST) problems.push(problem(source, index, field, detail))
  })
  return [...told.values()].flat()
}

interface TableRecords {
  table: Table
  records: readonly RecordValues[]
}

/**
 * What is required, bounds, unique values and links of tables that belong together.
 * @param placeOf names a record of a table, for people; by its index from 0
 */
export function checkTables<T extends TableRecords>(
  tables: readonly T[],
  placeOf: (source: T, index: number) => string,
  say: (source: T, index: number, field: string, detail: string) => void,
): void {
  const ids = new Map(tables.map(({ table, records }) => [table.name, new Set(records.map((record) => record.id))]))
  for (const source of tables)
    checkTable(
      source,
      ids,
      (index) => placeOf(source, index),
      (index, field, detail) => say(source, index, field, detail),
    )
}

function checkTable(
  { table, records }: TableRecords,
  ids: ReadonlyMap<string, ReadonlySet<number>>,
  placeOf: (index: number) => string,
  say: (index: number, field: string, detail: string) => void,
): void {
  const sets = [...table.fields.filter((field) => field.unique).map((field) => [field.name]), ...table.uniqueSets]
  const taken = sets.map(() => new Map<string, number>())
  for (const [index, record] of records.entries()) {
    for (const field of table.fields) {
      const wrong = fieldProblem(table, field, record[field.name] ?? null, ids)
      if (wrong !== null) say(index, field.name, wrong)
    }
    sets.forEach((names, set) => {
      const values = names.map((name): Value => record[name] ?? null)
      if (values.includes(null)) return
      const key = JSON.stringify(values)
      const first = taken[set]!.get(key)
      if (first !== undefined)
        say(index, names[0]!, `${names.join(' and ')} ${values.join(', ')} stands twice, first at ${placeOf(first)}`)
      else taken[set]!.set(key, index)
    })
  }
}

function fieldProblem(table: Table, field: Field, value: Value, ids: ReadonlyMap<string, ReadonlySet<number>>): string | null {
  if (value === null) return field.required ? `${field.name} is required, but empty` : null
  const bounds = boundsProblem(table.name, field, value)
  if (bounds !== null) return `${field.name} ${bounds}`
  if (field.link && !ids.get(field.link.table)?.has(value as number))
    return `${field.name}: ${field.link.table} has no record ${String(value)} in this folder`
  return null
}

const placeOf = ({ file, text }: RecordFile, index: number): string =>
  file.endsWith('.csv') ? `line ${csvOf(file, text).lineOf(index + 1)}` : `record ${index + 1}`

/** Read again for its lines only where something is wrong: the file of the fault before is asked most. */
let last: CsvText | JsonFile | null = null
const csvOf = (file: string, text: string): CsvText =>
  (last = last instanceof CsvText && last.text === text && last.file === file ? last : new CsvText(file, text))
const jsonOf = (file: string, text: string): JsonFile =>
  (last = last instanceof JsonFile && last.text === text && last.file === file ? last : new JsonFile(file, text))

function problem(source: RecordFile, index: number, field: string, detail: string): HookError {
  const { file, text, table } = source
  if (!file.endsWith('.csv'))
    return new HookError('project/bad-record', {
      file,
      line: jsonOf(file, text).lineOf([index, field]),
      table: table.name,
      row: index + 1,
      field,
      detail,
    })
  return new HookError('project/bad-csv', {
    file,
    table: table.name,
    line: csvOf(file, text).lineOf(index + 1),
    field,
    detail,
  })
}
