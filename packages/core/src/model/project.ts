import { z } from 'zod'
import { HookError, type ErrorReport } from '../errors.js'
import { readCsv, readJsonRecords } from './record-files.js'
import { hintFor } from './names.js'
import { firstIssue, parseJson, parseTable } from './table-file.js'
import type { HookFile, HookState, Plugin, Project, RecordValues, Sequence, Table, User } from './types.js'

/** Makes a Project of its files. Every file that is wrong is named, with the path within it. */

const limit = z.number().positive()
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
  budgets: z
    .strictObject({
      queries: limit.optional(),
      rowsRead: limit.optional(),
      rowsWritten: limit.optional(),
      steps: limit.optional(),
      ripples: z.number().int().nonnegative().optional(),
      ms: limit.optional(),
    })
    .optional(),
  batchSize: z.number().int().min(1).max(10_000).optional(),
})

const stateSchema = z.union([
  z.strictObject({ pilot: z.array(z.string().min(1)).min(1) }),
  z.strictObject({ off: z.literal(true) }),
  z.strictObject({ live: z.literal(true) }),
])
const pluginSchema = z.strictObject({
  name: z.string().min(1).optional(),
  version: z
    .string()
    .regex(/^\d+\.\d+\.\d+(-[\w.-]+)?(\+[\w.-]+)?$/, 'a version has the form 1.2.3 (semver)')
    .optional(),
  description: z.string().optional(),
  hooks: z.record(z.string(), stateSchema).optional(),
})

type Files = ReadonlyMap<string, string>

/**
 * @param files path from the project's root (with `/`) to text
 * @param known a project read before: what of it stands in files with the same text is not read again
 * @throws HookError; where several files are wrong, the first, with the rest under `others`
 */
export function parseProject(files: Files, known?: Project): Project {
  const problems: ErrorReport[] = []
  const attempt = <T>(work: () => T): T | undefined => {
    try {
      return work()
    } catch (error) {
      if (!(error instanceof HookError)) throw error
      problems.push(error.report)
      return undefined
    }
  }
  const head = attempt(() => parseHead(files))
  const tables = new Map<string, Table>()
  for (const [file, text] of sorted(files, /^tables\/[^/]+\.json$/)) {
    const before = known?.files.get(file) === text ? knownTable(known, file) : undefined
    const table = before ?? attempt(() => parseTable(file, text))
    if (table) tables.set(table.name, table)
  }
  for (const table of tables.values())
    for (const field of table.fields)
      if (field.link && !tables.has(field.link.table))
        attempt(() => {
          throw new HookError('project/bad-file', {
            file: table.file,
            path: `/properties/${field.name}/x-link`,
            detail: `there is no table ${field.link!.table}${hintFor(field.link!.table, tables.keys())}`,
          })
        })
  const plugins = attempt(() => parsePlugins(files, head?.users ?? [])) ?? new Map<string, Plugin>()
  const data = new Map<string, readonly RecordValues[]>()
  const fixtures = new Map<string, Map<string, readonly RecordValues[]>>()
  for (const [file, text] of sorted(files, /^(data|fixtures\/[^/]+)\/[^/]+\.(csv|json)$/)) {
    const parts = file.split('/')
    const into = parts[0] === 'data' ? data : (fixtures.get(parts[1]!) ?? new Map<string, readonly RecordValues[]>())
    if (parts[0] !== 'data') fixtures.set(parts[1]!, into)
    attempt(() => {
      const name = parts.at(-1)!.replace(/\.\w+$/, '')
      const table = tables.get(name)
      if (!table)
        throw new HookError('project/bad-file', {
          file,
          path: '/',
          detail: `there is no table ${name}${hintFor(name, tables.keys())}`,
        })
      if (into.has(name))
        throw new HookError('project/bad-file', {
          file,
          path: '/',
          detail: `the records of ${name} stand in two files of this folder`,
        })
      const before = known?.files.get(file) === text && knownTable(known, table.file) === table ? known : undefined
      const kept = before && (parts[0] === 'data' ? before.data : before.fixtures.get(parts[1]!))?.get(name)
      if (kept) {
        into.set(name, kept)
        return
      }
      const records = file.endsWith('.csv') ? readCsv(file, text, table) : readJsonRecords(file, parseJson(file, text), table)
      const ids = new Set<number>()
      for (const [index, record] of records.entries()) {
        if (ids.has(record.id))
          throw new HookError('project/bad-record', { file, row: index + 1, detail: `id ${record.id} stands twice` })
        ids.add(record.id)
      }
      into.set(name, records)
    })
  }
  if (problems.length > 0) throw new HookError({ ...problems[0]!, others: problems.slice(1) })
  return { ...head!, tables, plugins, data, fixtures, files }
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
  const parsed = projectSchema.safeParse(parseJson(file, text))
  if (!parsed.success) throw firstIssue(file, parsed.error)
  const source = parsed.data
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
    batchSize: source.batchSize ?? 500,
  }
}

function parsePlugins(files: Files, users: readonly User[]): Map<string, Plugin> {
  const plugins = new Map<string, Plugin>()
  const owners = new Map<string, string>()
  const names = new Set(
    [...files.keys()].map((file) => /^plugins\/([^/]+)\//.exec(file)?.[1]).filter((name) => name !== undefined),
  )
  for (const name of [...names].sort()) {
    const file = `plugins/${name}/plugin.json`
    const text = files.get(file)
    if (text === undefined) throw new HookError('project/missing-file', { file })
    const parsed = pluginSchema.safeParse(parseJson(file, text))
    if (!parsed.success) throw firstIssue(file, parsed.error)
    const inFolder = (folder: string, ending: string) =>
      [...files.keys()].filter((path) => path.startsWith(`plugins/${name}/${folder}/`) && path.endsWith(ending)).sort()
    const states = parsed.data.hooks ?? {}
    const hooks: HookFile[] = []
    for (const path of inFolder('hooks', '.ts')) {
      const hook = path.replace(/^.*\//, '').replace(/\.ts$/, '')
      const owner = owners.get(hook)
      if (owner)
        throw new HookError('project/bad-file', {
          file: path,
          path: '/',
          detail: `plugin ${owner} has a hook of the same name, ${hook}; a hook's name is unique in the project`,
        })
      owners.set(hook, name)
      hooks.push({ name: hook, plugin: name, file: path, state: toState(states[hook]) })
    }
    for (const [hook, state] of Object.entries(states)) {
      const path = `/hooks/${hook}`
      if (!hooks.some((each) => each.name === hook))
        throw new HookError('project/bad-file', {
          file,
          path,
          detail: `the plugin has no hook ${hook}${hintFor(
            hook,
            hooks.map((each) => each.name),
          )}`,
        })
      for (const user of 'pilot' in state ? state.pilot : [])
        if (users.length > 0 && !users.some((each) => each.name === user))
          throw new HookError('project/bad-file', {
            file,
            path: `${path}/pilot`,
            detail: `project.json has no user ${user}${hintFor(
              user,
              users.map((each) => each.name),
            )}`,
          })
    }
    plugins.set(name, {
      name,
      version: parsed.data.version ?? '0.0.0',
      description: parsed.data.description ?? '',
      hooks,
      lib: inFolder('lib', '.ts'),
      tests: inFolder('tests', '.test.ts'),
    })
  }
  return plugins
}

function toState(source: z.infer<typeof stateSchema> | undefined): HookState {
  if (source && 'pilot' in source) return { state: 'pilot', users: source.pilot }
  return { state: source && 'off' in source ? 'off' : 'live' }
}
