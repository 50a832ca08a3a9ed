import { pluginOfPath } from '@patient-hook/contract/paths'
import { BULK_PROPERTIES } from '@patient-hook/contract/words'
import { z } from 'zod'
import { HookError } from '../errors.js'
import type { Faults } from './faults.js'
import { JsonFile } from './json-file.js'
import { misplacedTest } from './misplaced.js'
import { hintFor } from './names.js'
import type { HookFile, HookState, Plugin, User } from './types.js'

/** The plugins of a project: their plugin.json, and which files are hooks, modules and tests. */

/** By property of the bulk proof: why it need not hold. */
const accepts = z.partialRecord(z.enum(BULK_PROPERTIES), z.string().min(1)).optional()
/** By name of a mutation: why no test need notice it. */
const misses = z.record(z.string().min(1), z.string().min(1)).optional()
const stateSchema = z.union([
  z.strictObject({ pilot: z.array(z.string().min(1)).min(1), accepts, misses }),
  z.strictObject({ off: z.literal(true), accepts, misses }),
  z.strictObject({ live: z.literal(true), accepts, misses }),
  z.strictObject({ accepts, misses }),
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

/** A plugin with a fault is left out; what is wrong stands among the faults. */
export function parsePlugins(files: ReadonlyMap<string, string>, users: readonly User[], faults: Faults): Map<string, Plugin> {
  const plugins = new Map<string, Plugin>()
  /** By hook: the plugin that has it. */
  const owners = new Map<string, string>()
  for (const [name, paths] of pathsByPlugin(files.keys())) {
    const plugin = faults.attempt(() => parsePlugin(files, paths, name, owners, users, faults))
    if (plugin) plugins.set(name, plugin)
  }
  return plugins
}

/** The files of each plugin, both sorted. */
function pathsByPlugin(paths: Iterable<string>): [plugin: string, paths: string[]][] {
  const byPlugin = new Map<string, string[]>()
  for (const path of [...paths].sort()) {
    const plugin = pluginOfPath(path)
    if (plugin === null) continue
    const own = byPlugin.get(plugin)
    if (own) own.push(path)
    else byPlugin.set(plugin, [path])
  }
  return [...byPlugin].sort(([a], [b]) => (a < b ? -1 : 1))
}

/** @param paths of the plugin's files, sorted */
function parsePlugin(
  files: ReadonlyMap<string, string>,
  paths: readonly string[],
  name: string,
  owners: Map<string, string>,
  users: readonly User[],
  faults: Faults,
): Plugin | null {
  const file = `plugins/${name}/plugin.json`
  const text = files.get(file)
  if (text === undefined) throw new HookError('project/missing-file', { file })
  const json = new JsonFile(file, text)
  const parsed = pluginSchema.safeParse(json.value)
  if (!parsed.success) {
    faults.note(...json.faultsOf(parsed.error.issues, () => Object.keys(pluginSchema.shape)))
    return null
  }
  const inFolder = (folder: string, ending: string) =>
    paths.filter((path) => path.startsWith(`plugins/${name}/${folder}/`) && path.endsWith(ending))
  for (const path of paths) {
    const where = misplacedTest(path)
    if (where !== null) faults.note(new HookError('project/misplaced', { file: path, where }))
  }
  const states = parsed.data.hooks ?? {}
  const hooks: HookFile[] = []
  for (const path of inFolder('hooks', '.ts')) {
    const hook = path.replace(/^.*\//, '').replace(/\.ts$/, '')
    const owner = owners.get(hook)
    if (owner)
      faults.note(
        new HookError('project/bad-file', {
          file: path,
          path: '/',
          detail: `plugin ${owner} has a hook of the same name, ${hook}; a hook's name is unique in the project`,
        }),
      )
    else owners.set(hook, name)
    const { accepts = {}, misses = {} } = states[hook] ?? {}
    hooks.push({ name: hook, plugin: name, file: path, state: toState(states[hook]), accepts, misses })
  }
  const hookNames = hooks.map((each) => each.name)
  const userNames = users.map((each) => each.name)
  for (const [hook, state] of Object.entries(states)) {
    if (!hookNames.includes(hook))
      faults.note(json.wrong(['hooks', hook], `the plugin has no hook ${hook}${hintFor(hook, hookNames)}`))
    for (const [index, user] of ('pilot' in state ? state.pilot : []).entries())
      if (userNames.length > 0 && !userNames.includes(user))
        faults.note(json.wrong(['hooks', hook, 'pilot', index], `project.json has no user ${user}${hintFor(user, userNames)}`))
  }
  return {
    name,
    version: parsed.data.version ?? '0.0.0',
    description: parsed.data.description ?? '',
    hooks,
    lib: inFolder('lib', '.ts'),
    tests: inFolder('tests', '.test.ts'),
  }
}

function toState(source: z.infer<typeof stateSchema> | undefined): HookState {
  if (source && 'pilot' in source) return { state: 'pilot', users: source.pilot }
  return { state: source && 'off' in source ? 'off' : 'live' }
}
