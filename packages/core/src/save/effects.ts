import { HookError } from '../errors.js'
import type { Value, Values } from '../model/types.js'
import { gotOf } from '../model/values.js'
import { LONGEST_NAME } from '@patient-hook/contract'
import { sealFunctions } from '../harden.js'
import { LONGEST_TEXT } from '../model/values.js'
import { readThrown } from '../sandbox/thrown.js'
import { cut } from '../text.js'
import { checkEffect } from './effect-values.js'
import type { Hook } from './program.js'
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
  roots: readonly number[]
}
export interface PendingCreate {
  values: Values
  by: Hook
  at?: Place
  roots: readonly number[]
}
export interface PendingRemove {
  by: Hook | null
  roots: readonly number[]
}

export class EffectSink {
  readonly updates = new Map<string, Map<number, PendingUpdate>>()
  readonly creates = new Map<string, PendingCreate[]>()
  readonly removes = new Map<string, Map<number, PendingRemove>>()
  readonly hooks = new Set<string>()

  get isEmpty(): boolean {
    return this.updates.size === 0 && this.creates.size === 0 && this.removes.size === 0
  }

  /**
   * @param values kept as they are given, not copied
   * @param asker its hook is null for the save path itself, clearing a link
   * @throws HookError effects/conflict
   */
  update(table: string, id: number, values: Values, asker: Asker, roots: readonly number[]): void {
    const { hook, row } = asker
    let ofTable = this.updates.get(table)
    if (!ofTable) this.updates.set(table, (ofTable = new Map()))
    if (hook && !this.hooks.has(hook.name)) this.hooks.add(hook.name)
    const pending = ofTable.get(id)
    if (!pending) {
      ofTable.set(id, { values, asker, others: null, roots })
      return
    }
    if (pending.roots !== roots) pending.roots = [...new Set([...pending.roots, ...roots])]
    pending.others ??= new Map(Object.keys(pending.values).map((field) => [field, pending.asker]))
    for (const [field, value] of Object.entries(values)) {
      const known = pending.others.get(field)
      if (known && pending.values[field] !== value && !overrules(hook, row, known))
        throw new HookError('effects/conflict', {
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
      pending.values[field] = value
      pending.others.set(field, asker)
    }
  }

  create(table: string, values: Values, hook: Hook, roots: readonly number[], at?: Place): void {
    const list = this.creates.get(table) ?? []
    this.creates.set(table, list)
    list.push({ values, by: hook, roots, ...(at ? { at } : {}) })
    this.hooks.add(hook.name)
  }

  remove(table: string, id: number, hook: Hook | null, roots: readonly number[]): void {
    const ofTable = this.removes.get(table) ?? new Map<number, PendingRemove>()
    this.removes.set(table, ofTable)
    const known = ofTable.get(id)
    ofTable.set(id, { by: known?.by ?? hook, roots: known ? [...new Set([...known.roots, ...roots])] : roots })
    if (hook) this.hooks.add(hook.name)
  }
}

/** One row may set a field twice, and a hook that runs after another overrules it; two rows have no order. */
const overrules = (hook: Hook | null, row: SaveRow | null, known: Asker): boolean =>
  known.hook === hook ? row !== null && known.row === row : (hook?.after.includes(known.hook?.name ?? '') ?? false)

const nameOf = ({ hook, row }: Asker): string =>
  `${hook ? hook.name : 'the save path'}${row ? ` for ${row.shape.table.name} ${row.id}` : ''}`

export interface EffectCalls {
  update(table: string, id: number, values: Values): void
  create(table: string, values: Values): void
  remove(table: string, id: number): void
  send(channel: string, message: unknown): void
}

export function makeEffects(session: Session, sink: EffectSink): EffectCalls {
  let levelRoots: { rows: readonly SaveRow[]; roots: readonly number[] } | null = null
  /** The units of the input behind an effect: of the row at hand, or in finish of all rows. */
  const roots = (): readonly number[] => {
    const { row, levelRows } = session.stage
    if (row) return row.roots
    if (levelRoots?.rows !== levelRows)
      levelRoots = { rows: levelRows, roots: [...new Set(levelRows.flatMap((each) => each.roots))] }
    return levelRoots.roots
  }
  let asker: Asker | null = null
  const askerOf = (hook: Hook): Asker => {
    const { row, recorder } = session.stage
    const at = recorder?.here()
    if (at) return { hook, row, at }
    if (asker?.hook !== hook || asker.row !== row) asker = { hook, row }
    return asker
  }
  const working = (call: string): Hook => {
    const { hook, phase } = session.stage
    if (!hook || (phase !== 'each' && phase !== 'finish'))
      throw new HookError('hook/wrong-moment', { detail: `${call} was called after the hook had ended` })
    return hook
  }
  const tableOf = (table: unknown): string => {
    if (typeof table !== 'string' || !session.project.tables.has(table))
      throw new HookError('save/unknown-table', { table: gotOf(table), hint: '' })
    return table
  }
  const { isSafeInteger } = Number
  const idOf = (id: unknown, call: 'update' | 'remove', table: string): number => {
    if (!isSafeInteger(id))
      throw new HookError('hook/bad-effect', {
        detail: `${call}('${table}', id${call === 'update' ? ', values' : ''}) takes the id of a record (an integer), but got ${gotOf(id)}`,
      })
    return id as number
  }
  return {
    update(table, id, values) {
      const hook = working('update')
      tableOf(table)
      idOf(id, 'update', table)
      sink.update(table, id, checkEffect(session.project, table, values, 'update', id), askerOf(hook), roots())
    },
    create(table, values) {
      const hook = working('create')
      tableOf(table)
      sink.create(
        table,
        checkEffect(session.project, table, values, 'create'),
        hook,
        roots(),
        session.stage.recorder?.here() ?? undefined,
      )
    },
    remove(table, id) {
      const hook = working('remove')
      tableOf(table)
      sink.remove(table, idOf(id, 'remove', table), hook, roots())
    },
    send(channel, message) {
      const hook = working('send')
      if (typeof channel !== 'string' || channel === '')
        throw new HookError('hook/bad-effect', { detail: `send takes a channel's name, but got ${gotOf(channel)}` })
      let text: string | undefined
      try {
        text = JSON.stringify(message)
      } catch (error) {
        throw new HookError('hook/bad-effect', { detail: `send: the message is not JSON: ${readThrown(error).message}` })
      }
      if (text !== undefined && text.length > LONGEST_TEXT)
        throw new HookError('hook/bad-effect', {
          detail: `send: the message has ${text.length} characters as JSON; it may have ${LONGEST_TEXT}`,
        })
      session.notes.sent.push({
        channel: cut(channel, LONGEST_NAME),
        message: text === undefined ? null : (JSON.parse(text) as Value),
        hook: hook.name,
        cause: hook.cause,
      })
    },
  }
}

/** The third argument of `each`. */
export function makeContext(session: Session, effects: EffectCalls | null): object {
  const wrongMoment = (name: string) => () => {
    throw new HookError('hook/wrong-moment', {
      detail: `${name} is there in after-save only; this hook runs at ${session.stage.hook?.moment}`,
    })
  }
  return sealFunctions({
    clock: session.clock,
    user: session.user,
    log: (...values: unknown[]) => session.log(values),
    next: (sequence: string) => {
      const number = session.sequences.take(sequence)
      if (session.options.record) session.notes.numbers.add(number)
      return number
    },
    ...(effects ?? {
      update: wrongMoment('update'),
      create: wrongMoment('create'),
      remove: wrongMoment('remove'),
      send: wrongMoment('send'),
    }),
  })
}
