import { HookError } from '../errors.js'
import type { Values } from '../model/types.js'
import { singly, type AskedSet } from './asked-sets.js'
import type { Hook } from './hook.js'
import { union, type Origin } from './origin.js'
import type { SaveRow } from './row.js'
import type { Session } from './session.js'
import type { Place } from './types.js'

/** What after-save hooks ask for: gathered per table, merged per record, then saved as a ripple. */

export interface Asker {
  hook: Hook | null
  /** The row that the hook was called for; null in finish. */
  row: SaveRow | null
  /** The line that asked; only where code was probed. */
  at?: Place
}
export interface PendingUpdate {
  values: Values
  /** Who asked first; for all fields, as long as nobody else asked. */
  asker: Asker
  /** By field, once a second asker came. */
  others: Map<string, Asker> | null
  origin: Origin
  /** Of those that asked after the first. */
  more: Origin[]
}
export interface PendingCreate {
  values: Values
  by: Hook
  at?: Place
  origin: Origin
}
export interface PendingRemove {
  by: Hook | null
  origin: Origin
  more: Origin[]
}

export class EffectSink {
  readonly updates = new Map<string, Map<number, PendingUpdate>>()
  readonly creates = new Map<string, PendingCreate[]>()
  readonly removes = new Map<string, Map<number, PendingRemove>>()
  /** By table: what is asked for as a set; nothing else is asked of the table then. */
  readonly sets = new Map<string, AskedSet>()
  readonly hooks = new Set<string>()

  constructor(private readonly session: Session) {}

  get isEmpty(): boolean {
    return this.sets.size === 0 && this.hasOnlySets
  }

  get hasOnlySets(): boolean {
    return [...this.updates.values()].every((records) => records.size === 0) && this.creates.size === 0 && this.removes.size === 0
  }

  /** Has nothing been asked of the records of this table? */
  isFree(table: string): boolean {
    return !this.sets.has(table) && (this.updates.get(table)?.size ?? 0) === 0 && !this.removes.has(table)
  }

  /** Of tables that are free. @param sets in the order in which they were asked for */
  updateSets(sets: readonly AskedSet[]): void {
    for (const each of sets) {
      const { name } = each.set.table
      this.sets.set(name, each)
      // Its place among the tables, for when it is taken apart.
      if (!this.updates.has(name)) this.updates.set(name, new Map())
      this.hooks.add(each.asked[0]!.asker.hook!.name)
    }
  }

  /** Asks for the single records of a set instead, since somebody else asks something of its table. */
  takeApart(table: string): void {
    const asked = this.sets.get(table)
    if (!asked) return
    this.sets.delete(table)
    for (const { id, values, asker, origin } of singly(this.session, asked)) this.update(table, id, values, asker, origin!)
  }

  /**
   * @param values kept as they are given, not copied
   * @param asker its hook is null for the save path itself, clearing a link
   * @throws HookError effects/conflict
   */
  update(table: string, id: number, values: Values, asker: Asker, origin: Origin): void {
    const { hook, row } = asker
    if (this.sets.size > 0) this.takeApart(table)
    let ofTable = this.updates.get(table)
    if (!ofTable) this.updates.set(table, (ofTable = new Map()))
    if (hook && !this.hooks.has(hook.name)) this.hooks.add(hook.name)
    const pending = ofTable.get(id)
    if (!pending) {
      ofTable.set(id, { values, asker, others: null, origin, more: NONE })
      return
    }
    pending.others ??= new Map(Object.keys(pending.values).map((field) => [field, pending.asker]))
    for (const [field, value] of Object.entries(values)) {
      const known = pending.others.get(field)
      if (known && pending.values[field] !== value && !overrules(hook, row, known)) {
        const conflict = new HookError('effects/conflict', {
          table,
          id,
          field,
          hook: hook?.name,
          file: hook?.file,
          first: JSON.stringify(pending.values[field]),
          second: JSON.stringify(value),
          firstBy: nameOf(known),
          secondBy: nameOf(asker),
        })
        const { options, refusals, stage } = this.session
        // Of two documents one may be refused for another reason: then there is no conflict.
        if (options.partial !== true) throw conflict
        const before = originOf(pending)
        if (!refusals.shareUnit(before, origin)) refusals.noteHanging(stage.hookError(conflict).report, origin, before, 'kept')
        else if (row === null) this.session.conflicts.push(stage.hookError(conflict))
        else throw conflict
        continue
      }
      pending.values[field] = value
      pending.others.set(field, asker)
    }
    addOrigin(pending, origin)
  }

  create(table: string, values: Values, hook: Hook, origin: Origin, at?: Place): void {
    const list = this.creates.get(table) ?? []
    this.creates.set(table, list)
    list.push({ values, by: hook, origin, ...(at ? { at } : {}) })
    this.hooks.add(hook.name)
  }

  remove(table: string, id: number, hook: Hook | null, origin: Origin): void {
    this.takeApart(table)
    const ofTable = this.removes.get(table) ?? new Map<number, PendingRemove>()
    this.removes.set(table, ofTable)
    const known = ofTable.get(id)
    if (known) {
      known.by ??= hook
      addOrigin(known, origin)
    } else ofTable.set(id, { by: hook, origin, more: NONE })
    if (hook) this.hooks.add(hook.name)
  }
}

/** Shared by all that have only one origin: effects come by the hundred thousand. */
const NONE: Origin[] = []

function addOrigin(pending: { origin: Origin; more: Origin[] }, origin: Origin): void {
  if (pending.origin === origin) return
  if (pending.more === NONE) pending.more = [origin]
  else if (pending.more[pending.more.length - 1] !== origin) pending.more.push(origin)
}

/** Where a pending effect comes from, all that asked for it taken together. */
export const originOf = ({ origin, more }: { origin: Origin; more: Origin[] }): Origin =>
  more.length === 0 ? origin : union([origin, ...more])

/** One row may set a field twice, and a hook that runs after another overrules it; two rows have no order. */
const overrules = (hook: Hook | null, row: SaveRow | null, known: Asker): boolean =>
  known.hook === hook ? row !== null && known.row === row : (hook?.after.includes(known.hook?.name ?? '') ?? false)

const nameOf = ({ hook, row }: Asker): string =>
  `${hook ? hook.name : 'the save path'}${row ? ` for ${row.shape.table.name} ${row.id}` : ''}`
