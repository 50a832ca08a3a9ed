import type { Difference } from '@patient-hook/contract'
import type { Value } from '../../model/types.js'
import { readSave } from '../../save/history.js'
import type { SaveOutcome } from '../../save/save.js'
import type { Store } from '../../store/database.js'

/** What a save left behind, beside what it would leave now. */

type Fate = 'created' | 'changed' | 'removed' | 'untouched'

/** What became of one record in a save, ripples taken together. */
interface Net {
  table: string
  id: number
  from: Record<string, Value>
  to: Record<string, Value>
  by: Record<string, string>
  created: boolean
  removed: boolean
}

/** @param outcome of the same save, recorded */
export function differencesOf(store: Store, save: number, outcome: SaveOutcome): Difference[] {
  const then = keptChanges(store, save)
  const now = changesOf(outcome)
  const differences: Difference[] = []
  for (const key of new Set([...then.keys(), ...now.keys()])) compareRecord(then.get(key), now.get(key), differences)
  return [...differences, ...compareMessages(keptMessages(store, save), outcome.sent)]
}

function compareRecord(then: Net | undefined, now: Net | undefined, differences: Difference[]): void {
  const { table, id } = (then ?? now)!
  const [before, after] = [fateOf(then), fateOf(now)]
  const comesAndGoes = before !== after && ![before, after].every((fate) => fate === 'changed' || fate === 'untouched')
  if (comesAndGoes) {
    const by = [...new Set([...Object.values(then?.by ?? {}), ...Object.values(now?.by ?? {})])].sort()
    differences.push({ kind: 'record', table, id, then: before, now: after, by })
    return
  }
  if (before === 'removed') return
  for (const field of new Set([...Object.keys(then?.to ?? {}), ...Object.keys(now?.to ?? {})])) {
    const [old, fresh] = [valueOf(then, now, field), valueOf(now, then, field)]
    if (old === fresh) continue
    const [byThen, byNow] = [then?.by[field] ?? null, now?.by[field] ?? null]
    differences.push({ kind: 'value', table, id, field, then: old, now: fresh, byThen, byNow })
  }
}

/** A field that one side left alone holds what it held before the save. */
function valueOf(net: Net | undefined, other: Net | undefined, field: string): Value {
  if (net && field in net.to) return net.to[field]!
  return net?.created ? null : (other?.from[field] ?? null)
}

function fateOf(net: Net | undefined): Fate {
  if (!net || (net.created && net.removed)) return 'untouched'
  if (net.created) return 'created'
  if (net.removed) return 'removed'
  return Object.keys(net.to).some((field) => net.to[field] !== net.from[field]) ? 'changed' : 'untouched'
}

class Nets extends Map<string, Net> {
  of(table: string, id: number): Net {
    const key = `${table} ${id}`
    let net = this.get(key)
    if (!net) this.set(key, (net = { table, id, from: {}, to: {}, by: {}, created: false, removed: false }))
    return net
  }

  note(table: string, id: number, event: string, changes: readonly { field: string; from: Value; to: Value; by: string }[]) {
    const net = this.of(table, id)
    net.created ||= event === 'create'
    net.removed ||= event === 'delete'
    for (const { field, from, to, by } of changes) {
      if (!(field in net.from)) net.from[field] = from
      net.to[field] = to
      net.by[field] = by
    }
  }
}

/** `plugin/hook@version` is the hook. */
const hookName = (by: string): string => /^[^/]+\/(.+)@[^@]*$/.exec(by)?.[1] ?? by

function keptChanges(store: Store, save: number): Nets {
  const nets = new Nets()
  for (const { table, record, event, changes } of readSave(store, save))
    nets.note(
      table,
      record,
      event,
      changes.map(({ field, from, to, by }) => ({ field, from: from as Value, to: to as Value, by: hookName(by) })),
    )
  return nets
}

function changesOf({ rows, refusals }: SaveOutcome): Nets {
  const nets = new Nets()
  // Of a partial save the refused rows are reported as well.
  const refused = new Set(refusals.map(({ row }) => row))
  for (const { table, id, event, changes, was, now, depth, row } of rows) {
    if (depth === 0 && refused.has(row)) continue
    nets.note(table, id, event, changes)
    // A create's empty fields are no changes, and yet known.
    const net = nets.of(table, id)
    for (const [field, value] of Object.entries(now ?? {}))
      if (field !== 'id' && was === null && !(field in net.to)) net.to[field] = value
  }
  return nets
}

interface Message {
  channel: string
  hook: string
  message: unknown
}

function keptMessages(store: Store, save: number): Message[] {
  const raw = store.rows('SELECT channel, hook, payload FROM ph_outbox WHERE save = ? ORDER BY id', save) as string[][]
  return raw.map(([channel, hook, payload]) => ({
    channel: channel!,
    hook: hookName(hook!),
    message: JSON.parse(payload!) as unknown,
  }))
}

/** Messages of one channel and hook are held against each other in their order. */
function compareMessages(then: readonly Message[], now: readonly Message[]): Difference[] {
  const ways = new Set([...then, ...now].map(({ channel, hook }) => JSON.stringify([channel, hook])))
  return [...ways].flatMap((way) => {
    const [channel, hook] = JSON.parse(way) as [string, string]
    const of = (messages: readonly Message[]) =>
      messages.filter((each) => each.channel === channel && each.hook === hook).map(({ message }) => message)
    const [before, after] = [of(then), of(now)]
    return Array.from({ length: Math.max(before.length, after.length) }, (_, at) => at).flatMap((at): Difference[] => {
      const [old, fresh] = [before[at] ?? null, after[at] ?? null]
      return JSON.stringify(old) === JSON.stringify(fresh) ? [] : [{ kind: 'message', channel, hook, then: old, now: fresh }]
    })
  })
}
