import { HookError } from '../errors.js'
import { fieldHint, hintFor } from '../model/names.js'
import type { HookFile, HookState, Plugin, Project, Table } from '../model/types.js'
import { gotOf } from '../model/values.js'
import type { LoadedModule } from '../sandbox/sandbox.js'
import { numberOf } from '../watch.js'
import type { EventName, Moment } from './types.js'

/** One hook: what its file defines, checked when it is loaded, not when a save uses it. */

type AnyFunction = (...values: unknown[]) => unknown

/** All; those that the hook did not cause itself, directly or through others; or none, only what was typed. */
export type Ripples = 'all' | 'others' | 'none'

export interface Hook {
  name: string
  plugin: string
  version: string
  file: string
  table: string
  moment: Moment
  on: ReadonlySet<EventName>
  /** Field indexes; null when every change wakes the hook. */
  watch: readonly string[] | null
  /** What is said of a row in which nothing that is watched has a value, or has changed. */
  noValue: string
  noChange: string
  after: readonly string[]
  /** Which ripples wake it. */
  ripples: Ripples
  touchedBy: readonly { table: string; link: string }[]
  only: AnyFunction | null
  load: AnyFunction | null
  each: AnyFunction | null
  finish: AnyFunction | null
  state: HookState
  /** Lines of the definition's parts. */
  parts: ReadonlyMap<string, number>
  /** What `only` asks, as it is written. */
  guard: string
  /** `load` is proved to write to no row. */
  loadReads: boolean
  /** Fields that a before-save hook can write; null where every field has to be compared. */
  writes: readonly string[] | null
  /** Fields that it can look at or write, those it watches or is traced by among them; null where it may be any. */
  touches: ReadonlySet<string> | null
  /** Position among all hooks: what `by` holds, plus FIRST_HOOK. */
  index: number
  /** The same object as long as nothing has changed that makes the hook what it is. */
  origin: object
  /** Stands for the hook where a number is needed that means the same in every program. */
  number: number
  /** `plugin/hook@version`, for the history. */
  cause: string
}

const MOMENTS: readonly Moment[] = ['before-save', 'after-save', 'before-commit']
const EVENTS: readonly EventName[] = ['create', 'update', 'delete']
const RIPPLES: readonly Ripples[] = ['all', 'others', 'none']
const PARTS = ['table', 'moment', 'on', 'watch', 'only', 'after', 'ripples', 'load', 'each', 'finish', 'touchedBy']

/** What hooks were made of, by their modules: those stay loaded while a project's files change one by one. */
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

/** @throws HookError hook/no-definition or hook/bad-definition */
export function toHook(project: Project, plugin: Plugin, source: HookFile, module: LoadedModule, index: number): Hook {
  const { name, version } = plugin
  const text = JSON.stringify(source)
  const before = origins.get(module)
  const isSame =
    before?.plugin === name &&
    before.version === version &&
    before.source === text &&
    before.tables.every(([table, as]) => project.tables.get(table) === as)
  // A program may change a hook that it has, so that each has its own.
  if (isSame && before.hook) return { ...before.hook, index }
  const made = makeHook(project, plugin, source, module, index)
  const tables = [made.table, ...made.touchedBy.map(({ table }) => table)].map(
    (table) => [table, project.tables.get(table)] as const,
  )
  const origin: Origin = { plugin: name, version, source: text, tables, hook: null }
  made.origin = origin
  origin.hook = made
  origins.set(module, origin)
  return { ...made }
}

const NONE = Object.freeze({})

function makeHook(project: Project, plugin: Plugin, source: HookFile, module: LoadedModule, index: number): Hook {
  const { name, file, state } = source
  const { parts, writes, touches, loadReads, guard } = module.compiled
  const fail = (part: string, detail: string) =>
    new HookError('hook/bad-definition', { hook: name, file, line: parts.get(part) ?? parts.get('') ?? 1, detail })
  const definition = module.exports['default']
  const given = definition !== null && typeof definition === 'object' ? definitions.get(definition) : undefined
  if (!given) throw new HookError('hook/no-definition', { hook: name, file, line: 1 })
  for (const part of Object.keys(given))
    if (!PARTS.includes(part)) throw fail(part, `there is no part ${part}${hintFor(part, PARTS)}`)
  const table = project.tables.get(given['table'] as string)
  if (!table)
    throw fail(
      'table',
      `table: there is no table ${gotOf(given['table'])}${hintFor(String(given['table']), project.tables.keys())}`,
    )
  const moment = given['moment'] as Moment
  if (!MOMENTS.includes(moment)) throw fail('moment', `moment is one of ${MOMENTS.join(', ')}, but is ${gotOf(moment)}`)
  const texts = (part: string): string[] | null => {
    const list = given[part]
    if (list === undefined) return null
    const names: unknown = Array.isArray(list) ? [...(list as unknown[])] : list
    if (!Array.isArray(names) || names.some((each) => typeof each !== 'string'))
      throw fail(part, `${part} takes a list of names, but got ${gotOf(list)}`)
    return names as string[]
  }
  const on = (texts('on') ?? ['create', 'update']) as EventName[]
  for (const event of on) if (!EVENTS.includes(event)) throw fail('on', `on takes ${EVENTS.join(', ')}, but got ${gotOf(event)}`)
  if (on.length === 0) throw fail('on', 'on is empty, so the hook would never run')
  const watch = texts('watch')
  if (watch?.length === 0)
    throw fail('watch', 'watch is empty, so the hook would never run; leave it out to run for every change')
  for (const field of watch ?? [])
    if (!table.fields.some((each) => each.name === field))
      throw fail('watch', `watch: table ${table.name} has no field ${JSON.stringify(field)}${fieldHint(field, table)}`)
  const call = (part: string): AnyFunction | null => {
    const value = given[part]
    if (value === undefined) return null
    if (typeof value !== 'function') throw fail(part, `${part} is a function, but got ${gotOf(value)}`)
    return value as AnyFunction
  }
  const [only, load, each, finish] = [call('only'), call('load'), call('each'), call('finish')]
  if (finish && moment !== 'after-save') throw fail('finish', 'only an after-save hook has finish')
  if (!each && !finish)
    throw fail(
      '',
      moment === 'after-save'
        ? 'the hook has neither each nor finish, so it would do nothing'
        : 'the hook has no each, so it would do nothing',
    )
  const ripples = (given['ripples'] ?? 'all') as Ripples
  if (!RIPPLES.includes(ripples)) throw fail('ripples', `ripples is one of ${RIPPLES.join(', ')}, but is ${gotOf(ripples)}`)
  if (ripples !== 'all' && moment === 'before-commit')
    throw fail(
      'ripples',
      'a before-commit hook runs once for each touched record, so there is no ripple that could wake it again',
    )
  const touchedBy = (texts('touchedBy') ?? []).map((text) => toTouch(project, table, text, fail))
  if (touchedBy.length > 0 && moment !== 'before-commit') throw fail('touchedBy', 'only a before-commit hook has touchedBy')
  // What finish asks for is traced to the rows that link to it.
  const traced = finish ? table.fields.filter(({ link }) => link).map((field) => field.name) : []
  return {
    name,
    plugin: plugin.name,
    version: plugin.version,
    file,
    table: table.name,
    moment,
    on: new Set(on),
    watch,
    noValue: `no value in ${(watch ?? []).join(', ')}`,
    noChange: `no change of ${(watch ?? []).join(', ')}`,
    after: texts('after') ?? [],
    ripples,
    touchedBy,
    only,
    load,
    each,
    finish,
    state,
    parts,
    guard,
    loadReads,
    writes: writes && knownFields(table, [...writes]),
    touches: touches && asSet(knownFields(table, [...touches, ...(watch ?? []), ...traced])),
    index,
    origin: NONE,
    number: numberOf('hook', `${name}\n${file}`),
    cause: `${plugin.name}/${name}@${plugin.version}`,
  }
}

/** In the table's order, the id left out. @returns null where a name is not a field: the error comes when it is used */
function knownFields({ fields }: Table, names: readonly string[]): readonly string[] | null {
  const known = new Set(['id', ...fields.map(({ name }) => name)])
  if (names.some((name) => !known.has(name))) return null
  const wanted = new Set(names)
  return fields.map(({ name }) => name).filter((name) => wanted.has(name))
}

const asSet = (names: readonly string[] | null): ReadonlySet<string> | null => names && new Set(names)

function toTouch(
  project: Project,
  table: Table,
  text: string,
  fail: (part: string, detail: string) => HookError,
): { table: string; link: string } {
  const [childName, link, more] = text.split('.')
  const child = project.tables.get(childName ?? '')
  const field = child?.fields.find((each) => each.name === link)
  if (!child || !field || more !== undefined || field.link?.table !== table.name) {
    const possible = [...project.tables.values()].flatMap((each) =>
      each.fields.filter((one) => one.link?.table === table.name).map((one) => `${each.name}.${one.name}`),
    )
    throw fail(
      'touchedBy',
      `touchedBy: ${text} is not a link to ${table.name}; there ${possible.length === 1 ? 'is' : 'are'} ${possible.join(', ') || 'none'}`,
    )
  }
  return { table: child.name, link: field.name }
}

/** What hooks were defined by, as it was given then. */
const definitions = new WeakMap<object, Record<string, unknown>>()

/** The function that hooks import. */
export function defineHook(definition: unknown): unknown {
  if (definition === null || typeof definition !== 'object') throw new HookError('hook/no-definition')
  const frozen = Object.freeze({ ...definition })
  definitions.set(frozen, frozen as Record<string, unknown>)
  return frozen
}
Object.freeze(defineHook)
