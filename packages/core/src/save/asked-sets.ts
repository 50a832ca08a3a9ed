import { fieldOf } from '../store/where.js'
import { countSet, firstOf, membersOf } from '../store/set-asks.js'
import { canBeKey, type SetWrite } from '../store/set-source.js'
import { writeSet } from '../store/set-write.js'
import { groupsOf, onOne, type AskedEffect, type ByCondition, type ConditionGroup } from './condition-groups.js'
import { couldWake, fitting, linksStand, othersFit, standAlone, tellsOfEach } from './quiet.js'
import type { Session } from './session.js'

/** Updates by a condition that can be written as a set: of children that nothing looks at, say, by what they link to. */

export interface AskedSet {
  set: SetWrite & { count: number }
  /** Who asked, by entry. */
  asked: readonly AskedEffect[]
}

/**
 * @param isFree whether nothing else has been asked of the table yet
 * @returns in the order in which they were asked for; null where a single record has to be looked at @throws HookError budget/spent, as looking them up would
 */
export function setsOf(
  session: Session,
  asked: readonly (AskedEffect & { where: unknown })[],
  isFree: (table: string) => boolean,
): AskedSet[] | null {
  const { options, program } = session
  if (tellsOfEach(session) || options.partial || options.backfill || program.asksWhoCaused) return null
  if (!asked.every((each): each is ByCondition => each.call === 'update' && typeof each.where === 'object')) return null
  const groups = groupsOf(session, asked)
  if (new Set(groups.map(({ table }) => table)).size < groups.length || !groups.every(({ table }) => isFree(table))) return null
  const sets: { set: SetWrite; asked: readonly ByCondition[]; places: readonly number[] }[] = []
  for (const group of groups) {
    const of = group.asked.map(({ place }) => asked[place]!)
    const set = setOf(session, group, of)
    if (!set) return null
    sets.push({ set, asked: of, places: group.asked.map(({ place }) => place) })
  }
  const counted = sets
    .map((each) => ({ ...each, set: { ...each.set, count: countOf(session, each.set) } }))
    .filter(({ set }) => set.count > 0)
  if (counted.length < 2) return counted
  const first = new Map(counted.map((each) => [each, each.places[firstOf(session.store, each.set)]!]))
  return counted.sort((one, other) => first.get(one)! - first.get(other)!)
}

function setOf(session: Session, { table: name, key, rest, asked }: ConditionGroup, of: readonly ByCondition[]): SetWrite | null {
  const table = session.project.tables.get(name)!
  const names = Object.keys(of[0]!.values)
  const fields = table.fields.filter((field) => names.includes(field.name))
  if (fields.length === 0 || fields.length < names.length || !standAlone(table, fields)) return null
  const told = key === null ? null : fieldOf(table, key)
  // Records that are reported by what is written would be reported again on the way.
  if (told !== null && (!canBeKey(told) || fields.some((field) => field === told))) return null
  if (session.touches.concern(name) || couldWake(session, table, fields, true).length > 0) return null
  if (new Set(asked.map(({ value }) => value)).size < asked.length || asked.some(({ not }) => not.size > 1)) return null
  if (key === null && (asked.length > 1 || asked.some(({ not }) => not.size > 0))) return null
  const entries: SetWrite['entries'][number][] = []
  for (const [index, { values }] of of.entries()) {
    if (Object.keys(values).length !== names.length || !names.every((field) => Object.hasOwn(values, field))) return null
    const kept = fitting(
      session,
      table,
      fields,
      fields.map((field) => values[field.name] as never),
    )
    if (!kept) return null
    const { value, not } = asked[index]!
    entries.push({ key: value, not: [...not][0] ?? null, values: kept })
  }
  const set = { table, fields, key: told, rest, entries }
  if (
    !linksStand(
      session,
      fields,
      entries.map(({ values }) => values),
    )
  )
    return null
  return othersFit(session, set, fields) ? set : null
}

/** @throws HookError budget/spent */
function countOf(session: Session, set: SetWrite): number {
  const { meter } = session.reads
  const left = meter.query()
  // A record that is left out is read all the same.
  const leavesOut = set.entries.some(({ not }) => not !== null)
  const all = leavesOut ? { ...set, entries: set.entries.map((entry) => ({ ...entry, not: null })) } : set
  const read = countSet(session.store, all)
  meter.rows(Math.min(read, left), () => ({ call: 'find', table: set.table.name, asked: {}, ids: [] }))
  return leavesOut ? countSet(session.store, set) : read
}

/** The records of a set with what each is to take, in the order in which looking them up would have given them. */
export function* singly(session: Session, { set, asked }: AskedSet): Generator<AskedEffect & { id: number }> {
  for (const { id, entry } of membersOf(session.store, set)) {
    yield onOne(asked[entry]!, id)
  }
}

/** Writes the set one level below the one at work. @throws HookError budget/spent */
export function writeAskedSet(session: Session, { set, asked }: AskedSet): void {
  const { hook } = asked[0]!.asker
  const { saveId: save, stage, options } = session
  const written = writeSet(session.store, set, options.history ? { save, depth: stage.depth, by: () => hook!.cause } : null)
  session.spending.use('rowsWritten', written)
  session.wrote(set.table.name, [])
}
