import { HookError } from '../errors.js'
import { fieldHint, hintFor } from '../model/names.js'
import { inOrder } from '../model/order.js'
import type { HookFile, HookState, Plugin, Project, Table } from '../model/types.js'
import { gotOf } from '../model/values.js'
import type { LoadedModule, Sandbox } from '../sandbox/sandbox.js'
import { AT_WORK, atWork, numberOf } from '../watch.js'
import type { EventName, Moment } from './types.js'

/** The hooks of a project, loaded, checked and put in order. Options are checked here, not when a save uses them. */

type AnyFunction = (...values: unknown[]) => unknown

export interface Hook {
  name: string
  plugin: string
  version: string
  file: string
  table: string
  moment: Moment
  on: ReadonlySet<EventName>
  /** Field indexes; null when every change wakes the hook. */
  watch: readonly number[] | null
  watchNames: readonly string[]
  after: readonly string[]
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
  /** Field indexes that a before-save hook can write; null where every field has to be compared. */
  writes: readonly number[] | null
  /** Position among all hooks: what `by` holds, plus FIRST_HOOK. */
  index: number
  /** Stands for the hook where a number is needed that means the same in every program. */
  number: number
  /** `plugin/hook@version`, for the history. */
  cause: string
}

/** Who set a value: 0 nobody, 1 typed, 2 cleared with a link, 3 the table's default, then hooks. */
export const TYPED = 1
export const BY_LINK = 2
export const BY_DEFAULT = 3
export const FIRST_HOOK = 4

const MOMENTS: readonly Moment[] = ['before-save', 'after-save', 'before-commit']
const EVENTS: readonly EventName[] = ['create', 'update', 'delete']
const PARTS = ['table', 'moment', 'on', 'watch', 'only', 'after', 'load', 'each', 'finish', 'touchedBy']

export class Program {
  readonly hooks: readonly Hook[]
  readonly #byPlace = new Map<string, Hook[]>()
  readonly #tables = new Set<string>()
  /** before-commit hooks woken by a child's save, by the child's table. */
  readonly touchedBy = new Map<string, { link: string; parent: string }[]>()
  readonly #written = new Map<string, readonly number[] | null>()

  /** @throws HookError of the first hook that cannot be used, the rest under `others` */
  constructor(
    readonly project: Project,
    readonly sandbox: Sandbox,
  ) {
    const hooks: Hook[] = []
    const problems: HookError[] = []
    for (const plugin of project.plugins.values())
      for (const file of plugin.hooks) {
        try {
          const module = sandbox.load(file.file)
          hooks.push(atWork(AT_WORK.module, () => toHook(project, plugin, file, module, hooks.length)))
        } catch (thrown) {
          // A definition may be an object that throws as it is looked at.
          const { report } = sandbox.toHookError(thrown, { hook: file.name, file: file.file }, 'hook/module-threw')
          problems.push(new HookError({ ...report, hook: report.hook ?? file.name, file: report.file ?? file.file }))
        }
      }
    if (problems.length === 0) {
      try {
        this.#arrange(hooks)
      } catch (error) {
        problems.push(error as HookError)
      }
    }
    if (problems.length > 0) throw new HookError({ ...problems[0]!.report, others: problems.slice(1).map((each) => each.report) })
    this.hooks = hooks
  }

  at(table: string, moment: Moment): readonly Hook[] {
    return this.#byPlace.get(`${table} ${moment}`) ?? []
  }

  /** Indexes of the fields that before-save hooks of the table can write; null where every field may be. */
  written(table: string): readonly number[] | null {
    let known = this.#written.get(table)
    if (known === undefined) {
      const hooks = this.at(table, 'before-save')
      known = hooks.some((hook) => hook.writes === null)
        ? null
        : [...new Set(hooks.flatMap((hook) => hook.writes!))].sort((a, b) => a - b)
      this.#written.set(table, known)
    }
    return known
  }

  /** Does any hook run, at whatever moment, when a record of the table is saved? */
  concerns(table: string): boolean {
    return this.touchedBy.has(table) || this.#tables.has(table)
  }

  hookName(by: number): string {
    if (by === TYPED) return 'typed'
    if (by === BY_LINK) return 'link'
    if (by === BY_DEFAULT) return 'default'
    return this.hooks[by - FIRST_HOOK]?.name ?? ''
  }

  #arrange(hooks: Hook[]): void {
    for (const hook of hooks) {
      this.#tables.add(hook.table)
      const key = `${hook.table} ${hook.moment}`
      this.#byPlace.set(key, [...(this.#byPlace.get(key) ?? []), hook])
      for (const { table, link } of hook.touchedBy) {
        const list = this.touchedBy.get(table) ?? []
        if (!list.some((each) => each.link === link)) list.push({ link, parent: hook.table })
        this.touchedBy.set(table, list)
      }
    }
    for (const [key, list] of this.#byPlace) {
      const names = new Map(list.map((hook) => [hook.name, hook]))
      for (const hook of list)
        for (const first of hook.after)
          if (!names.has(first)) {
            const elsewhere = hooks.find((each) => each.name === first)
            const detail = elsewhere
              ? `after names ${first}, which runs at ${elsewhere.moment} of ${elsewhere.table}; after orders hooks of one moment of one table`
              : `after names ${first}, which is not a hook${hintFor(
                  first,
                  hooks.map((each) => each.name),
                )}`
            throw new HookError('hook/bad-definition', {
              hook: hook.name,
              file: hook.file,
              line: hook.parts.get('after'),
              detail,
            })
          }
      const sorted = inOrder(new Map(list.map((hook) => [hook.name, hook.after])))
      if ('circle' in sorted) {
        const hook = names.get(sorted.circle[0]!)!
        throw new HookError('hook/bad-definition', {
          hook: hook.name,
          file: hook.file,
          line: hook.parts.get('after'),
          detail: `after goes in a circle: ${sorted.circle.join(', ')}`,
        })
      }
      // A hook that hands its record on could have another hook's code write to it: then all are compared in full.
      if (list.some((hook) => hook.writes === null)) for (const hook of list) hook.writes = null
      this.#byPlace.set(
        key,
        sorted.order.map((name) => names.get(name)!),
      )
    }
  }
}

function toHook(project: Project, plugin: Plugin, source: HookFile, module: LoadedModule, index: number): Hook {
  const { name, file, state } = source
  const { parts, writes, loadReads, guard } = module.compiled
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
  const watchNames = texts('watch')
  if (watchNames?.length === 0)
    throw fail('watch', 'watch is empty, so the hook would never run; leave it out to run for every change')
  const watch = watchNames?.map((field) => {
    const index = table.fields.findIndex((each) => each.name === field)
    if (index < 0)
      throw fail('watch', `watch: table ${table.name} has no field ${JSON.stringify(field)}${fieldHint(field, table)}`)
    return index
  })
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
  const touchedBy = (texts('touchedBy') ?? []).map((text) => toTouch(project, table, text, fail))
  if (touchedBy.length > 0 && moment !== 'before-commit') throw fail('touchedBy', 'only a before-commit hook has touchedBy')
  return {
    name,
    plugin: plugin.name,
    version: plugin.version,
    file,
    table: table.name,
    moment,
    on: new Set(on),
    watch: watch ?? null,
    watchNames: watchNames ?? [],
    after: texts('after') ?? [],
    touchedBy,
    only,
    load,
    each,
    finish,
    state,
    parts,
    guard,
    loadReads,
    writes: writes && indexesOf(table, writes),
    index,
    number: numberOf('hook', `${name}\n${file}`),
    cause: `${plugin.name}/${name}@${plugin.version}`,
  }
}

/** @returns null where a name is not a field: the error comes when it is written */
function indexesOf(table: Table, names: ReadonlySet<string>): readonly number[] | null {
  const indexes = [...names].map((name) => table.fields.findIndex((field) => field.name === name))
  return indexes.includes(-1) ? null : indexes.sort((a, b) => a - b)
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
