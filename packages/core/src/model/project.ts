import type { GateRuleName } from '@patient-hook/contract'
import { z } from 'zod'
import { HookError } from '../errors.js'
import { Faults } from './faults.js'
import { JsonFile } from './json-file.js'
import { LateMap } from './late-map.js'
import { once } from '../once.js'
import { hintFor } from './names.js'
import { parsePlugins } from './plugin-files.js'
import { readCsv, readJsonRecords } from './record-files.js'
import { parseTable, tableNameOf } from './table-file.js'
import type { Project, RecordValues, Sequence, Table, User } from './types.js'

/** Makes a Project of its files. Every file that is wrong is named, with the path within it. */

const limit = z.number().positive()
const BUDGET_LIMITS = {
  queries: limit.optional(),
  rowsRead: limit.optional(),
  rowsWritten: limit.optional(),
  steps: limit.optional(),
  ripples: z.number().int().nonnegative().optional(),
  ms: limit.optional(),
}
/** Rules of a release's gate. */
const GATE = {
  model: z.boolean().optional(),
  types: z.boolean().optional(),
  findings: z.boolean().optional(),
  tests: z.boolean().optional(),
  /** The least share of statements that tests run, in per cent; true: it must not fall. */
  coverage: z.union([z.boolean(), z.number().min(0).max(100)]).optional(),
  bulk: z.boolean().optional(),
} satisfies Record<GateRuleName, z.ZodType>
const projectSchema = z.strictObject({
  $schema: z.string().optional(),
  name: z.string().min(1).optional(),
  title: z.string().optional(),
  description: z.string().optional(),
  version: z.string().optional(),
  /** Names, or objects with more to say of the user. */
  users: z
    .array(
      z.union([
        z.string().min(1),
        z.looseObject({ id: z.string().min(1).optional(), name: z.string().min(1), title: z.string().optional() }),
      ]),
    )
    .optional(),
  sequences: z
    .record(
      z.string().regex(/^[A-Za-z][\w-]*$/, 'a sequence has a name of letters, digits, - and _'),
      z.strictObject({
        prefix: z.string().optional(),
        digits: z.number().int().min(1).max(15).optional(),
        start: z.number().int().nonnegative().optional(),
      }),
    )
    .optional(),
  budgets: z.strictObject(BUDGET_LIMITS).optional(),
  gate: z.strictObject(GATE).optional(),
  batchSize: z.number().int().min(1).max(10_000).optional(),
})

/** Settings within settings, by their name. */
const SETTINGS: Partial<Record<string, object>> = { budgets: BUDGET_LIMITS, gate: GATE }

type Files = ReadonlyMap<string, string>

/**
 * @param files path from the project's root (with `/`) to text
 * @param known a project read before: what of it is in files with the same text is not read again
 * @param late records are read when they are asked for, and what is wrong with them is reported then
 * @throws HookError; where several files are wrong, the first, with the rest under `others`
 */
export function parseProject(files: Files, known?: Project, late = false): Project {
  const faults = new Faults()
  const head = faults.attempt(() => parseHead(files))
  const tables = parseTables(files, known, faults)
  const plugins = parsePlugins(files, head?.users ?? [], faults)
  const records = parseRecords(files, tables, known, faults, late)
  faults.throwIfAny()
  return { ...head!, tables, plugins, ...records, files }
}

const TABLE_FILE = /^tables\/[^/]+\.json$/

/** Names of all tables that have a file, whether it can be read or not: anyone who names one that is at fault does nothing wrong. */
const namedTables = (files: Files): Set<string> => new Set([...sorted(files, TABLE_FILE)].map(([file]) => tableNameOf(file)))

function parseTables(files: Files, known: Project | undefined, faults: Faults): Map<string, Table> {
  const tables = new Map<string, Table>()
  for (const [file, text] of sorted(files, TABLE_FILE)) {
    const before = known?.files.get(file) === text ? knownTable(known, file) : undefined
    const table = before ?? faults.attempt(() => parseTable(file, text))
    if (table) tables.set(table.name, table)
  }
  const named = namedTables(files)
  for (const { file, fields } of tables.values())
    for (const { name, link } of fields)
      if (link && !named.has(link.table))
        faults.note(
          new JsonFile(file, files.get(file)!).wrong(
            ['properties', name, 'x-link'],
            `there is no table ${link.table}${hintFor(link.table, named)}`,
          ),
        )
  return tables
}

function parseRecords(
  files: Files,
  tables: ReadonlyMap<string, Table>,
  known: Project | undefined,
  faults: Faults,
  late: boolean,
): Pick<Project, 'data' | 'fixtures'> {
  /** By folder, then by table. */
  const folders = new Map<string, Map<string, () => readonly RecordValues[]>>()
  const named = namedTables(files)
  const seen = new Set<string>()
  for (const [file, text] of sorted(files, /^(data|fixtures\/[^/]+)\/[^/]+\.(csv|json)$/)) {
    const parts = file.split('/')
    const folder = parts.slice(0, -1).join('/')
    const into = folders.get(folder) ?? new Map<string, () => readonly RecordValues[]>()
    folders.set(folder, into)
    const name = parts.at(-1)!.replace(/\.\w+$/, '')
    const table = tables.get(name)
    const wrong = (detail: string) => faults.note(new HookError('project/bad-file', { file, path: '/', detail }))
    if (!table) {
      if (!named.has(name)) wrong(`there is no table ${name}${hintFor(name, named)}`)
      continue
    }
    const path = `${folder}/${name}`
    if (seen.has(path)) {
      wrong(`the records of ${name} are in two files of this folder`)
      continue
    }
    seen.add(path)
    const before = known?.files.get(file) === text && knownTable(known, table.file) === table ? known : undefined
    const kept = before && readerOf(parts[0] === 'data' ? before.data : before.fixtures.get(parts[1]!), name)
    const read = kept ?? once(() => (file.endsWith('.csv') ? readCsv : readJsonRecords)(file, text, table))
    const records = late ? null : faults.attempt(read)
    if (late) into.set(name, read)
    else if (records) into.set(name, () => records)
  }
  const recordsOf = (tablesOf: ReadonlyMap<string, () => readonly RecordValues[]>) =>
    late ? new LateMap(tablesOf) : new Map([...tablesOf].map(([name, read]) => [name, read()]))
  const fixtures = new Map<string, ReadonlyMap<string, readonly RecordValues[]>>()
  for (const [folder, tablesOf] of folders)
    if (folder !== 'data') fixtures.set(folder.slice('fixtures/'.length), recordsOf(tablesOf))
  return { data: recordsOf(folders.get('data') ?? new Map()), fixtures }
}

type Records = readonly RecordValues[]

/** What reads the records of an earlier project, so that whichever of both is asked first reads for both. */
function readerOf(records: ReadonlyMap<string, Records> | undefined, name: string): (() => Records) | undefined {
  if (records instanceof LateMap) return records.maker(name) as (() => Records) | undefined
  const there = records?.get(name)
  return there && (() => there)
}

function knownTable(known: Project | undefined, file: string): Table | undefined {
  for (const table of known?.tables.values() ?? []) if (table.file === file) return table
  return undefined
}

function* sorted(files: Files, pattern: RegExp): Generator<[string, string]> {
  for (const file of [...files.keys()].filter((name) => pattern.test(name)).sort()) yield [file, files.get(file)!]
}

function parseHead(files: Files) {
  const file = 'project.json'
  const text = files.get(file)
  if (text === undefined) throw new HookError('project/missing-file', { file })
  const json = new JsonFile(file, text)
  const parsed = projectSchema.safeParse(json.value)
  if (!parsed.success) {
    const faults = new Faults()
    faults.note(...json.faultsOf(parsed.error.issues, (path) => Object.keys(SETTINGS[String(path[0])] ?? projectSchema.shape)))
    faults.throwIfAny()
  }
  const source = parsed.data!
  const users: User[] = (source.users ?? []).map((user) =>
    typeof user === 'string' ? { name: user, title: user } : { name: user.id ?? user.name, title: user.title ?? user.name },
  )
  const sequences = new Map<string, Sequence>()
  for (const [name, each] of Object.entries(source.sequences ?? {}))
    sequences.set(name, { name, prefix: each.prefix ?? '', digits: each.digits ?? 1, start: each.start ?? 1 })
  const name = source.name ?? 'project'
  return {
    name,
    title: source.title ?? name,
    users,
    sequences,
    budgets: source.budgets ?? {},
    gate: source.gate ?? {},
    batchSize: source.batchSize ?? 500,
  }
}
