import { entry } from '../entry/entry.js'
import { definition } from '../entry/readers.js'
import { HookError } from '../errors.js'
import { fieldHint, hintFor } from '../model/names.js'
import type { HookFile, Project, Table } from '../model/types.js'
import { gotOf } from '../model/values.js'
import type { LoadedModule } from '../sandbox/sandbox.js'
import type { EventName, Moment } from './types.js'

/** What a hook's file gives to defineHook, checked when it is loaded, not when a save uses it. */

export type AnyFunction = (...values: unknown[]) => unknown

/** All; those that the hook did not cause itself, directly or through others; or none, only what was typed. */
export type Ripples = 'all' | 'others' | 'none'

export interface HookDefinition {
  table: string
  moment: Moment
  on: readonly EventName[]
  /** Field names; null when every change wakes the hook. */
  watch: readonly string[] | null
  after: readonly string[]
  /** Which ripples wake it. */
  ripples: Ripples
  touchedBy: readonly { table: string; link: string }[]
  /** Fields that a before-save hook can write; null where every field has to be compared. */
  writes: readonly string[] | null
  /** Fields that it can look at or write, those it watches or is traced by among them; null where it may be any. */
  touches: readonly string[] | null
}

/** To be called by themselves, and not as methods: what they are called on would be their `this`. */
export interface HookFunctions {
  only: AnyFunction | null
  load: AnyFunction | null
  each: AnyFunction | null
  finish: AnyFunction | null
}

const MOMENTS: readonly Moment[] = ['before-save', 'after-save', 'before-commit']
const EVENTS: readonly EventName[] = ['create', 'update', 'delete']
const RIPPLES: readonly Ripples[] = ['all', 'others', 'none']
const PARTS = ['table', 'moment', 'on', 'watch', 'only', 'after', 'ripples', 'load', 'each', 'finish', 'touchedBy']

/** What hooks were defined by, as it was given then. */
const definitions = new WeakMap<object, Record<string, unknown>>()

/** The function that hooks import. */
export const defineHook = entry('defineHook', [definition], (given) => {
  if (gotOf(given) !== 'an object') throw new HookError('hook/no-definition')
  const frozen = Object.freeze(given as Record<string, unknown>)
  definitions.set(frozen, frozen)
  return frozen
})

function givenBy(module: LoadedModule): Record<string, unknown> | undefined {
  const made = module.exports['default']
  return made !== null && typeof made === 'object' ? definitions.get(made) : undefined
}

/** @param module that has run, and whose definition has been checked */
export function functionsOf(module: LoadedModule): HookFunctions {
  const given = givenBy(module) ?? {}
  const part = (name: string) => (given[name] ?? null) as AnyFunction | null
  return { only: part('only'), load: part('load'), each: part('each'), finish: part('finish') }
}

/**
 * @param module that has run
 * @throws HookError hook/no-definition or hook/bad-definition
 */
export function definitionOf(project: Project, { name, file }: HookFile, module: LoadedModule): HookDefinition {
  const { parts, writes, touches } = module.compiled
  const fail = (part: string, detail: string) =>
    new HookError('hook/bad-definition', { hook: name, file, line: parts.get(part) ?? parts.get('') ?? 1, detail })
  const given = givenBy(module)
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
  for (const part of ['only', 'load', 'each', 'finish'])
    if (given[part] !== undefined && typeof given[part] !== 'function')
      throw fail(part, `${part} is a function, but got ${gotOf(given[part])}`)
  const { each, finish } = functionsOf(module)
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
    table: table.name,
    moment,
    on,
    watch,
    after: texts('after') ?? [],
    ripples,
    touchedBy,
    writes: writes && knownFields(table, [...writes]),
    touches: touches && knownFields(table, [...touches, ...(watch ?? []), ...traced]),
  }
}

/** In the table's order, the id left out. @returns null where a name is not a field: the error comes when it is used */
function knownFields({ fields }: Table, names: readonly string[]): readonly string[] | null {
  const known = new Set(['id', ...fields.map(({ name }) => name)])
  if (names.some((name) => !known.has(name))) return null
  const wanted = new Set(names)
  return fields.map(({ name }) => name).filter((name) => wanted.has(name))
}

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
