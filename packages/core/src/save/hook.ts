import type { HookFile, HookState, Plugin, Project, Table } from '../model/types.js'
import type { LoadedModule, Sandbox } from '../sandbox/sandbox.js'
import { AT_WORK, atWork, numberOf } from '../watch.js'
import { definitionOf, type HookDefinition, type HookFunctions } from './hook-definition.js'
import { readDefinition, tablesOf, writeDefinition } from './kept-definitions.js'
import type { EventName } from './types.js'

/** One hook of a program. */

export interface Hook extends Omit<HookDefinition, 'on' | 'touches'>, HookFunctions {
  name: string
  plugin: string
  version: string
  file: string
  on: ReadonlySet<EventName>
  /** What is shown of a row in which nothing that is watched has a value, or has changed. */
  noValue: string
  noChange: string
  state: HookState
  /** Lines of the definition's parts. */
  parts: ReadonlyMap<string, number>
  /** What `only` asks, as it is written. */
  guard: string
  /** `load` is proved to write to no row. */
  loadReads: boolean
  touches: ReadonlySet<string> | null
  /** Position among all hooks: what `by` holds, plus FIRST_HOOK. */
  index: number
  /** The same object as long as there are no changes that makes the hook what it is. */
  origin: object
  /** Represents the hook where a number is needed that means the same in every program. */
  number: number
  /** `plugin/hook@version`, for the history. */
  cause: string
}

/** What hooks were made of, by their modules: those stay loaded while a project's files change one at a time. */
const origins = new WeakMap<LoadedModule, Origin>()

interface Origin {
  plugin: string
  version: string
  /** JSON. */
  source: string
  /** Those that it was checked against. */
  tables: readonly (readonly [name: string, table: Table | undefined])[]
  hook: Hook | null
}

/** By which a hook has its number. */
export const numberedAs = ({ name, file }: HookFile): string => `${name}\n${file}`

/**
 * The hook without its functions, which it is given when a save could call them (Program.at): until then its module need not run, where what it
 * defines is known.
 * @throws HookError of its module, hook/no-definition or hook/bad-definition
 */
export function toHook(project: Project, plugin: Plugin, source: HookFile, sandbox: Sandbox, index: number): Hook {
  const { name, version } = plugin
  const text = JSON.stringify(source)
  const module = sandbox.prepare(source.file)
  const before = origins.get(module)
  const isSame =
    before?.plugin === name &&
    before.version === version &&
    before.source === text &&
    before.tables.every(([table, as]) => project.tables.get(table) === as)
  // A program may change a hook that it has, so that each has its own.
  if (isSame && before.hook) return { ...before.hook, index }
  const texts = sandbox.textsOf(source.file)
  const definition = readDefinition(project, source.file, texts) ?? define(project, source, sandbox, texts)
  const tables = tablesOf(definition).map((table) => [table, project.tables.get(table)] as const)
  const origin: Origin = { plugin: name, version, source: text, tables, hook: null }
  origin.hook = makeHook(plugin, source, module, definition, origin)
  origins.set(module, origin)
  return { ...origin.hook, index }
}

function define(project: Project, source: HookFile, sandbox: Sandbox, texts: string | null): HookDefinition {
  const module = sandbox.load(source.file)
  const definition = atWork(AT_WORK.module, () => definitionOf(project, source, module))
  writeDefinition(project, source.file, texts, definition)
  return definition
}

function makeHook(plugin: Plugin, source: HookFile, module: LoadedModule, definition: HookDefinition, origin: object): Hook {
  const { name, file, state } = source
  const { parts, loadReads, guard } = module.compiled
  const watched = (definition.watch ?? []).join(', ')
  return {
    name,
    plugin: plugin.name,
    version: plugin.version,
    file,
    table: definition.table,
    moment: definition.moment,
    on: new Set(definition.on),
    watch: definition.watch,
    noValue: `no value in ${watched}`,
    noChange: `no change of ${watched}`,
    after: definition.after,
    ripples: definition.ripples,
    touchedBy: definition.touchedBy,
    only: null,
    load: null,
    each: null,
    finish: null,
    state,
    parts,
    guard,
    loadReads,
    writes: definition.writes,
    touches: definition.touches && new Set(definition.touches),
    index: 0,
    origin,
    number: numberOf('hook', numberedAs(source)),
    cause: `${plugin.name}/${name}@${plugin.version}`,
  }
}
