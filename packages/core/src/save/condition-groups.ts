import type { Table, Value, Values } from '../model/types.js'
import { own } from '../own.js'
import { plainCondition } from '../store/where.js'
import type { Asker } from './effect-sink.js'
import type { Origin } from './origin.js'
import type { Session } from './session.js'

/** Conditions by which effects name their records, put together where they differ in one field only. */

type Condition = Value | Readonly<Record<string, Value | readonly Value[]>>
export type Where = Readonly<Record<string, Condition>>

export interface AskedEffect {
  call: 'update' | 'remove'
  table: string
  /** Of an update. */
  values: Values
  asker: Asker
  /** Null where finish asked: then it depends on the record. */
  origin: Origin | null
}
export type ByCondition = AskedEffect & { where: Where }

/**
 * The effect on one record, with its own values: others may add to them. Spelled out, since adding a field to what was spread takes
 * V8 a microsecond or two (measured: bench/NOTES.md).
 */
export const onOne = ({ call, table, values, asker, origin }: AskedEffect, id: number): AskedEffect & { id: number } => ({
  call,
  table,
  id,
  values: { ...values },
  asker,
  origin,
})

/** Conditions that differ only in what `key` is. */
export interface ConditionGroup {
  table: string
  key: string | null
  rest: Where
  asked: { place: number; value: Value; not: ReadonlySet<number> }[]
}

const NONE: ReadonlySet<number> = new Set()

/** @param asked by place */
export function groupsOf(session: Session, asked: readonly ByCondition[]): ConditionGroup[] {
  const groups = new Map<string, ConditionGroup>()
  const named = (table: string, key: string | null, rest: Where): ConditionGroup => {
    const name = JSON.stringify([table, key, rest])
    const group = groups.get(name) ?? { table, key, rest, asked: [] }
    groups.set(name, group)
    return group
  }
  let last: ConditionGroup | null = null
  asked.forEach(({ table, where }, place) => {
    const of = session.project.tables.get(table)!
    const plain = plainCondition(of, where)
    if (plain) {
      const isLast = last?.table === table && last.key === plain.name
      last = isLast ? last! : named(table, plain.name, {})
      last.asked.push({ place, value: plain.value, not: NONE })
    } else {
      const { key, value, not, rest } = split(of, where)
      named(table, key, rest).asked.push({ place, value, not })
    }
  })
  return [...groups.values()]
}

/** @returns which field tells a condition from others like it, and records that are excluded */
function split(table: Table, where: Where): { key: string | null; value: Value; not: ReadonlySet<number>; rest: Where } {
  const rest: Record<string, Condition> = { ...where }
  let not = NONE
  const { id } = where
  if (id !== null && typeof id === 'object' && Object.keys(id).join() === 'not') {
    const left = (id as { not: Value | Value[] }).not
    if (left !== null) {
      not = new Set((Array.isArray(left) ? left : [left]) as number[])
      delete rest['id']
    }
  }
  const plain = (name: string): Value | undefined => {
    const condition = own(rest, name)
    const value =
      condition !== null && typeof condition === 'object' && Object.keys(condition).join() === 'eq'
        ? (condition as { eq: Value }).eq
        : condition
    return value === null || typeof value === 'object' ? undefined : value
  }
  // A link comes first: it is the differences from row to row. A moment may be written in several ways, so it is none.
  const fields = table.fields.filter(({ name, format }) => own(rest, name) !== undefined && format !== 'date-time')
  const key = ['id', ...fields.filter(({ link }) => link).map(({ name }) => name), ...fields.map(({ name }) => name)].find(
    (name) => plain(name) !== undefined,
  )
  if (key === undefined) return { key: null, value: null, not, rest }
  const value = plain(key)!
  delete rest[key]
  return { key, value, not, rest }
}
