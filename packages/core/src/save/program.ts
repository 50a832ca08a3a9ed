import { HookError } from '../errors.js'
import { hintFor } from '../model/names.js'
import { inOrder } from '../model/order.js'
import type { Project } from '../model/types.js'
import type { Sandbox } from '../sandbox/sandbox.js'
import { numberAll } from '../watch.js'
import { numberedAs, toHook, type Hook } from './hook.js'
import { functionsOf } from './hook-definition.js'
import type { Moment } from './types.js'

/** The hooks of a project, loaded and put in order. */

/** Who set a value: 0 nobody, 1 typed, 2 cleared with a link, 3 the table's default, 4 a backfill, 5 hook code that is not known, then hooks. */
export const TYPED = 1
export const BY_LINK = 2
export const BY_DEFAULT = 3
export const BY_BACKFILL = 4
export const BY_UNKNOWN = 5
export const FIRST_HOOK = 6

export class Program {
  readonly hooks: readonly Hook[]
  /** Does any hook want to know which hooks a ripple comes from? */
  readonly asksWhoCaused: boolean
  /** Hooks whose modules may keep something. */
  readonly #stateful: readonly Hook[]
  readonly #byPlace = new Map<string, Hook[]>()
  /** Places whose hooks have no functions yet. */
  readonly #resting = new Set<string>()
  readonly #tables = new Set<string>()
  /** before-commit hooks woken by a child's save, by the child's table. */
  readonly touchedBy = new Map<string, { link: string; parent: string }[]>()
  readonly #written = new Map<string, readonly string[] | null>()
  readonly #touched = new Map<string, ReadonlySet<string> | null>()
  /** JSON: by plugin, its version. */
  readonly versions: string

  /** @throws HookError of the first hook that cannot be used, the rest under `others` */
  constructor(
    readonly project: Project,
    readonly sandbox: Sandbox,
  ) {
    this.versions = JSON.stringify(Object.fromEntries([...project.plugins.values()].map(({ name, version }) => [name, version])))
    numberAll(
      'hook',
      [...project.plugins.values()].flatMap((plugin) => plugin.hooks.map(numberedAs)),
    )
    const hooks: Hook[] = []
    const problems: HookError[] = []
    for (const plugin of project.plugins.values())
      for (const file of plugin.hooks) {
        try {
          hooks.push(toHook(project, plugin, file, sandbox, hooks.length))
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
    this.#stateful = hooks.filter((hook) => sandbox.keepsState(hook.file))
    this.asksWhoCaused = hooks.some((hook) => hook.ripples === 'others')
  }

  /** Gives a save modules that hold no state of the previous one. @throws HookError of a module that fails now */
  renew(): void {
    if (this.#stateful.length === 0) return
    this.sandbox.forgetState()
    for (const hook of this.#stateful) {
      const plugin = this.project.plugins.get(hook.plugin)!
      const source = plugin.hooks.find((each) => each.name === hook.name)!
      toHook(this.project, plugin, source, this.sandbox, hook.index)
      this.#giveFunctions(hook)
    }
  }

  /** The hooks in their order, which can run. @throws HookError of a module that fails now */
  at(table: string, moment: Moment): readonly Hook[] {
    const place = `${table} ${moment}`
    const hooks = this.#byPlace.get(place) ?? []
    if (this.#resting.size > 0 && this.#resting.has(place)) {
      for (const hook of hooks) this.#giveFunctions(hook)
      this.#resting.delete(place)
    }
    return hooks
  }

  /** The hooks in their order, to be looked at only. */
  of(table: string, moment: Moment): readonly Hook[] {
    return this.#byPlace.get(`${table} ${moment}`) ?? []
  }

  #giveFunctions(hook: Hook): void {
    Object.assign(hook, functionsOf(this.sandbox.loadLate(hook.file)))
  }

  /** Fields that before-save hooks of the table can write; null where every field may be. @param updating only where records are updated */
  written(table: string, updating = false): readonly string[] | null {
    const key = `${table} ${updating}`
    let known = this.#written.get(key)
    if (known === undefined) {
      const hooks = this.of(table, 'before-save').filter((hook) => !updating || hook.on.has('update'))
      known = hooks.some((hook) => hook.writes === null) ? null : [...new Set(hooks.flatMap((hook) => hook.writes!))]
      this.#written.set(key, known)
    }
    return known
  }

  /** Fields that hooks can look at or write where records of the table are updated; null where it may be any. */
  touchedByUpdates(table: string): ReadonlySet<string> | null {
    let known = this.#touched.get(table)
    if (known === undefined) {
      const hooks = this.hooks.filter((hook) => hook.table === table && hook.on.has('update'))
      known = hooks.some((hook) => hook.touches === null) ? null : new Set(hooks.flatMap((hook) => [...hook.touches!]))
      this.#touched.set(table, known)
    }
    return known
  }

  /** From now on nothing is taken for proved of the table's hooks: what one of them did was not what its syntax tree says. */
  distrust(table: string): void {
    for (const hook of this.hooks)
      if (hook.table === table) Object.assign(hook, { writes: null, touches: null, loadReads: false })
    for (const updating of [true, false]) this.#written.set(`${table} ${updating}`, null)
    this.#touched.set(table, null)
  }

  /** Is what hooks of the table write compared in full? */
  distrusts(table: string): boolean {
    return this.written(table) === null
  }

  /** Does any hook run, at whatever moment, when a record of the table is saved? */
  concerns(table: string): boolean {
    return this.touchedBy.has(table) || this.#tables.has(table)
  }

  hookName(by: number): string {
    if (by === TYPED) return 'typed'
    if (by === BY_LINK) return 'link'
    if (by === BY_DEFAULT) return 'default'
    if (by === BY_BACKFILL) return 'backfill'
    if (by === BY_UNKNOWN) return 'unknown hook'
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
      this.#resting.add(key)
    }
  }
}
