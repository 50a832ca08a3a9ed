import { quote } from '../model/ddl.js'
import { gotOf } from '../model/values.js'
import type { Table } from '../model/types.js'
import { bad, fieldOf } from './where.js'

/** Orders of a table's records as SQL, and what stands after or before a record in them. The id ends each order. */

export type OrderBy = string | Record<string, string> | readonly (string | Record<string, string>)[]

export interface SortKey {
  name: string
  falling: boolean
}

/** Keys of one order. */
const MOST_KEYS = 20

/** @throws HookError hook/unknown-field, hook/bad-query */
export function sortKeys(table: Table, orderBy: OrderBy | undefined): SortKey[] {
  const keys: SortKey[] = []
  for (const part of Array.isArray(orderBy) ? orderBy : orderBy === undefined ? [] : [orderBy]) {
    const pairs =
      typeof part === 'string' ? [part] : Object.entries(part as Record<string, string>).map(([name, way]) => `${name} ${way}`)
    for (const pair of pairs) {
      const match = /^(-?)(\w+)(?:\s+(asc|desc))?$/i.exec(pair)
      if (!match) throw bad(`orderBy takes a field's name, with - before it for falling order, but got ${gotOf(pair)}`)
      fieldOf(table, match[2]!)
      keys.push({ name: match[2]!, falling: match[1] === '-' || match[3]?.toLowerCase() === 'desc' })
    }
  }
  if (keys.length > MOST_KEYS) throw bad(`orderBy takes at most ${MOST_KEYS} fields, but got ${keys.length}`)
  return [...keys, { name: 'id', falling: false }]
}

const sqlOf = (keys: readonly SortKey[]): string =>
  keys.map(({ name, falling }) => `${quote(name)}${falling ? ' DESC' : ''}`).join(', ')

/** @throws HookError hook/unknown-field, hook/bad-query */
export const orderSql = (table: Table, orderBy: OrderBy | undefined): string => sqlOf(sortKeys(table, orderBy))

/** The other way round. */
export const reversed = (keys: readonly SortKey[]): SortKey[] => keys.map(({ name, falling }) => ({ name, falling: !falling }))

/** What comes after a record in an order: a condition for it, and a narrower one by which an index is entered at the record. */
export interface Beyond {
  order: string
  sql: string
  parameters: unknown[]
  /** All that comes after, as far as the first key has a value; the empty ones come last in a falling order. */
  bound: { sql: string; parameters: unknown[] } | null
}

/** @param values of the record, by the keys, as they are stored */
export function beyond(keys: readonly SortKey[], values: readonly unknown[]): Beyond {
  const ways: string[] = []
  const parameters: unknown[] = []
  keys.forEach(({ name, falling }, index) => {
    const value = values[index]
    const column = quote(name)
    // Nothing comes before what is empty, where the empty ones come last.
    if (falling && value === null) return
    const strict = value === null ? `${column} IS NOT NULL` : falling ? `(${column} < ? OR ${column} IS NULL)` : `${column} > ?`
    ways.push([...keys.slice(0, index).map((before) => `${quote(before.name)} IS ?`), strict].join(' AND '))
    parameters.push(...values.slice(0, index), ...(value === null ? [] : [value]))
  })
  const [first] = keys
  const bound =
    values[0] === null ? null : { sql: `${quote(first!.name)} ${first!.falling ? '<=' : '>='} ?`, parameters: [values[0]] }
  return { order: sqlOf(keys), sql: `(${ways.map((way) => `(${way})`).join(' OR ') || '0'})`, parameters, bound }
}
