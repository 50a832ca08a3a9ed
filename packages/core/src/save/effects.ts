import { HookError } from '../errors.js'
import type { Value, Values } from '../model/types.js'
import { gotOf } from '../model/values.js'
import { LONGEST_NAME } from '@patient-hook/contract/limits'
import { sealFunctions } from '../harden.js'
import { LONGEST_TEXT } from '../model/values.js'
import { readThrown } from '../sandbox/thrown.js'
import { cut } from '../text.js'
import { AskedInOrder, isCondition, orCondition } from './by-condition.js'
import type { Asker, EffectSink } from './effect-sink.js'
import { checkEffect } from './effect-values.js'
import { FinishOrigins } from './finish-origins.js'
import type { Hook } from './hook.js'
import { union, type Origin } from './origin.js'
import { FIRST_HOOK } from './program.js'
import type { SaveRow } from './row.js'
import type { Session } from './session.js'

/** The calls by which after-save hooks ask for effects. */

/** A record by its id, or all that a condition holds for. */
type Which = number | object

export interface EffectCalls {
  update(table: string, which: Which, values: Values): void
  create(table: string, values: Values): void
  remove(table: string, which: Which): void
  send(channel: string, message: unknown): void
}

/** The effects of one hook, for one batch. */
export interface Effects {
  calls: EffectCalls
  /** Was something asked for by a condition? */
  isOpen(): boolean
  /** The hook has ended: what was asked for by a condition is looked up. @param failed for a row that asked @throws HookError */
  end(failed: (row: SaveRow, error: unknown) => void): void
  /** All is known of the rows that effects stand for. */
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
    // Of a save that is kept as a whole or not at all, nobody asks which row of the batch an effect stands for.
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
        detail: `${call}('${table}', id${call === 'update' ? ', values' : ''}) ${orCondition(id)}`,
      })
    return id as number
  }
  const inOrder = new AskedInOrder(session)
  const ask = (call: 'update' | 'remove', table: string, which: Which, values: Values): boolean => {
    if (!isCondition(which) && !inOrder.isOpen) return false
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
  const calls: EffectCalls = {
    update(table, which, values) {
      const hook = working('update')
      tableOf(table)
      const id = isCondition(which) ? undefined : idOf(which, 'update', table)
      const taken = checkEffect(session.project, table, values, 'update', id)
      if (ask('update', table, which, taken)) return
      session.stage.recorder?.effect('update', table, id!, taken)
      sink.update(table, id!, taken, askerOf(hook), originFor(table, id!, taken))
    },
    create(table, values) {
      const hook = working('create')
      tableOf(table)
      const taken = checkEffect(session.project, table, values, 'create')
      session.stage.recorder?.effect('create', table, null, taken)
      sink.create(table, taken, hook, originFor(table, null, taken), session.stage.recorder?.here() ?? undefined)
    },
    remove(table, which) {
      const hook = working('remove')
      tableOf(table)
      const id = isCondition(which) ? null : idOf(which, 'remove', table)
      if (ask('remove', table, which, {})) return
      sink.remove(table, id!, hook, originFor(table, id, {}))
      session.stage.recorder?.effect('remove', table, id, {})
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
      const given = text === undefined ? null : (JSON.parse(text) as Value)
      session.stage.recorder?.effect('send', channel, null, given)
      session.notes.sent.push({
        channel: cut(channel, LONGEST_NAME),
        message: given,
        hook: hook.name,
        cause: hook.cause,
      })
    },
  }
  return { calls, isOpen: () => inOrder.isOpen, end, close: () => ofFinish?.close() }
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
    next: (sequence: string) => session.next(sequence),
    ...(effects ?? {
      update: wrongMoment('update'),
      create: wrongMoment('create'),
      remove: wrongMoment('remove'),
      send: wrongMoment('send'),
    }),
  })
}
