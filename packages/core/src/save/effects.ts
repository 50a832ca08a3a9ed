import { HookError } from '../errors.js'
import type { Value, Values } from '../model/types.js'
import { hintFor } from '../model/names.js'
import { gotOf } from '../model/values.js'
import { LONGEST_NAME } from '@patient-hook/contract/limits'
import { entry, entryOfMany } from '../entry/entry.js'
import { data, json, record, scalar, type Reader } from '../entry/readers.js'
import { shown } from '../entry/shown.js'
import { sealFunctions } from '../harden.js'
import { cut } from '../text.js'
import { AskedInOrder, orCondition } from './by-condition.js'
import type { Asker, EffectSink } from './effect-sink.js'
import { checkEffect } from './effect-values.js'
import { FinishOrigins } from './finish-origins.js'
import type { Hook } from './hook.js'
import { union, type Origin } from './origin.js'
import { FIRST_HOOK } from './program.js'
import type { SaveRow } from './row.js'
import type { Session } from './session.js'

/** The calls by which after-save hooks ask for effects. */

/** What hook code calls. */
type HookFunction = (...values: unknown[]) => void
export type EffectCalls = Record<'update' | 'create' | 'remove' | 'send', HookFunction>

/** A record by its id, or all that a condition holds for. */
const which: Reader<unknown> = (value, call) => (typeof value === 'number' ? value : data(value, call))

/** The effects of one hook, for one batch. */
export interface Effects {
  calls: EffectCalls
  /** Was something asked for by a condition? */
  isOpen(): boolean
  /** The hook has ended: what was asked for by a condition is looked up. @param failed for a row that asked @throws HookError */
  end(failed: (row: SaveRow, error: unknown) => void): void
  /** All is known of the rows that effects represent. */
  close(): void
}

/** @param rows the rows that the hook runs for */
export function makeEffects(session: Session, hook: Hook, rows: readonly SaveRow[], sink: EffectSink): Effects {
  const { asksWhoCaused } = session.program
  /** Hooks before the save that want to know whether a ripple goes back to them: for values that they set. */
  const setters = asksWhoCaused ? session.program.of(hook.table, 'before-save').filter((each) => each.ripples === 'others') : []
  /** What comes of a row's record comes of this hook too. */
  const originOfRow = ({ origin, by }: SaveRow): Origin => {
    if (!asksWhoCaused) return origin
    const numbers = setters.length > 0 ? Object.values(by) : []
    const set = setters.filter((each) => numbers.includes(each.index + FIRST_HOOK))
    return { rows: origin.rows, hooks: [hook, ...set].reduce((hooks, each) => hooks.with(each), origin.hooks) }
  }
  const needsFinishOrigins = session.options.partial === true || asksWhoCaused
  let ofRow: { row: SaveRow; origin: Origin } | null = null
  let ofFinish: FinishOrigins | null = null
  let ofAll: Origin | null = null
  const originFor = (table: string, id: number | null, values: Values): Origin => {
    const { row } = session.stage
    if (row) {
      if (ofRow?.row !== row) ofRow = { row, origin: originOfRow(row) }
      return ofRow.origin
    }
    // Of a save that is kept as a whole or not at all, nobody asks which row of the batch an effect represents.
    if (!needsFinishOrigins) return (ofAll ??= union(rows.map((each) => each.origin)))
    ofFinish ??= new FinishOrigins(session, rows, originOfRow)
    return ofFinish.of(table, id, values)
  }
  let asker: Asker | null = null
  const askerOf = (hook: Hook): Asker => {
    const { row, recorder } = session.stage
    const at = recorder?.here()
    if (at) return { hook, row, at }
    if (asker?.hook !== hook || asker.row !== row) asker = { hook, row }
    return asker
  }
  let closed = false
  const working = (call: string): Hook => {
    const { phase } = session.stage
    if (closed || session.stage.hook !== hook || (phase !== 'each' && phase !== 'finish')) throw ended(call)
    return hook
  }
  const tableOf = (table: unknown): string => {
    if (typeof table !== 'string' || !session.project.tables.has(table))
      throw new HookError('save/unknown-table', {
        table: typeof table === 'string' ? table : gotOf(table),
        hint: hintFor(String(table), session.project.tables.keys()),
      })
    return table
  }
  const { isSafeInteger } = Number
  const idOf = (id: unknown, call: 'update' | 'remove', table: string): number => {
    if (!isSafeInteger(id))
      throw new HookError('hook/bad-effect', {
        detail: `${call}('${table}', id${call === 'update' ? ', values' : ''}) ${orCondition(id)}`,
      })
    return id as number
  }
  const inOrder = new AskedInOrder(session)
  const ask = (call: 'update' | 'remove', table: string, which: number | object, values: Values): boolean => {
    if (typeof which === 'number' && !inOrder.isOpen) return false
    // What finish asks for depends on the record only where somebody asks for that.
    const origin = session.stage.row || !needsFinishOrigins ? originFor(table, null, values) : null
    inOrder.add({ call, table, values, asker: askerOf(session.stage.hook!), origin }, which)
    return true
  }
  const end = (failed: (row: SaveRow, error: unknown) => void): void => {
    const sets = inOrder.takeSets((table) => sink.isFree(table))
    if (sets) return sink.updateSets(sets)
    const against = new Set<SaveRow>()
    for (const { call, table, id, values, asker, origin } of inOrder.take()) {
      const { row } = asker
      if (row && against.has(row)) continue
      try {
        const from = origin ?? originFor(table, id, values)
        if (call === 'update') sink.update(table, id, values, asker, from)
        else sink.remove(table, id, asker.hook, from)
      } catch (error) {
        if (!row) throw error
        against.add(row)
        failed(row, error)
      }
    }
  }
  /** The record that is asked for, or the condition. @throws HookError */
  const aimOf = (given: unknown, call: 'update' | 'remove', table: string): number | object =>
    gotOf(given) === 'an object' ? (given as object) : idOf(given, call, table)
  const calls: EffectCalls = {
    update: entry('update', [scalar, which, record], (given, aim, values) => {
      const hook = working('update')
      const table = tableOf(given)
      const at = aimOf(aim, 'update', table)
      const id = typeof at === 'number' ? at : undefined
      const checked = checkEffect(session.project, table, values, 'update', id)
      if (ask('update', table, at, checked)) return
      session.stage.recorder?.effect('update', table, id!, checked)
      sink.update(table, id!, checked, askerOf(hook), originFor(table, id!, checked))
    }),
    create: entry('create', [scalar, record], (given, values) => {
      const hook = working('create')
      const table = tableOf(given)
      const checked = checkEffect(session.project, table, values, 'create')
      session.stage.recorder?.effect('create', table, null, checked)
      sink.create(table, checked, hook, originFor(table, null, checked), session.stage.recorder?.here() ?? undefined)
    }),
    remove: entry('remove', [scalar, which], (given, aim) => {
      const hook = working('remove')
      const table = tableOf(given)
      const at = aimOf(aim, 'remove', table)
      if (ask('remove', table, at, {})) return
      const id = at as number
      sink.remove(table, id, hook, originFor(table, id, {}))
      session.stage.recorder?.effect('remove', table, id, {})
    }),
    send: entry('send', [scalar, json], (channel, text) => {
      const hook = working('send')
      if (typeof channel !== 'string' || channel === '')
        throw new HookError('hook/bad-effect', { detail: `send takes a channel's name, but got ${gotOf(channel)}` })
      const given = text === undefined ? null : (JSON.parse(text) as Value)
      session.stage.recorder?.effect('send', channel, null, given)
      session.notes.sent.push({
        channel: cut(channel, LONGEST_NAME),
        message: given,
        hook: hook.name,
        cause: hook.cause,
      })
    }),
  }
  const close = () => {
    closed = true
    ofFinish?.close()
  }
  return { calls, isOpen: () => inOrder.isOpen, end, close }
}

/** A function that was handed to a hook is called when the hook has ended. */
const ended = (call: string) =>
  new HookError('hook/wrong-moment', { detail: `${call} was called after the hook that it was given to had ended` })

/** The third argument of `each`, for one hook and one batch: its functions throw once that has ended. */
export interface Context {
  context: object
  close(): void
}

export function makeContext(session: Session, hook: Hook, effects: EffectCalls | null): Context {
  let closed = false
  const check = (call: string) => {
    if (closed || session.stage.hook !== hook) throw ended(call)
  }
  const wrongMoment = (name: string) =>
    entry(name, [], () => {
      throw new HookError('hook/wrong-moment', {
        detail: `${name} is there in after-save only; this hook runs at ${hook.moment}`,
      })
    })
  const context = sealFunctions({
    clock: session.clock,
    user: session.user,
    log: entryOfMany('log', shown, (values) => {
      check('log')
      session.log(values)
    }),
    next: entry('next', [scalar], (sequence) => {
      check('next')
      return session.next(typeof sequence === 'string' ? sequence : gotOf(sequence))
    }),
    ...(effects ?? {
      update: wrongMoment('update'),
      create: wrongMoment('create'),
      remove: wrongMoment('remove'),
      send: wrongMoment('send'),
    }),
  })
  return {
    context,
    close: () => {
      closed = true
    },
  }
}
