import { quote } from '../model/ddl.js'
import type { Value } from '../model/types.js'
import type { Store } from './database.js'
import { columnOf, conditionsOf, fromSql, KEY, PLACE, sourceOf, whereAll, type SetWrite } from './set-source.js'

/** What is asked about a set before it is written. */

/** Aggregates over the records of the set, changed or not, such as `count(*)`. */
export function askSet(
  store: Store,
  set: SetWrite,
  aggregates: readonly string[],
  ofAggregates: readonly unknown[] = [],
): unknown[] {
  const source = sourceOf(set)
  const { sql, parameters } = conditionsOf(set, source)
  const { from } = fromSql(set)
  return store.rows(
    `${source.sql} SELECT ${aggregates.join(', ')} ${from}${whereAll(sql)}`,
    ...source.parameters,
    ...ofAggregates,
    ...parameters,
  )[0]!
}

/** Of each field, in how many records of the set it is to change. */
export function countChanges(store: Store, set: SetWrite): number[] {
  const { values } = sourceOf(set)
  const counts = set.fields.map(({ name }, index) => `count(*) FILTER (WHERE ${quote(name)} IS NOT ${values[index]!.sql})`)
  return askSet(
    store,
    set,
    counts,
    values.flatMap(({ parameters }) => parameters),
  ) as number[]
}

/** How many records there are in the set, changed or not. */
export function countSet(store: Store, set: SetWrite): number {
  const { table, key, rest, entries } = set
  // With other conditions SQLite might take an index of theirs, and go through all that they hold for.
  const isPlain = Object.keys(rest).length === 0 && entries.every(({ not }) => not === null)
  if (key === null || !isPlain) return askSet(store, set, ['count(*)'])[0] as number
  const keys = JSON.stringify(entries.map((entry) => entry.key))
  const told = `${columnOf(key)} IN (SELECT value FROM json_each(?))`
  return store.one(`SELECT count(*) FROM ${quote(table.name)} WHERE ${told}`, keys) as number
}

/** The first entry that has a record; -1 where none has. */
export function firstOf(store: Store, set: SetWrite): number {
  if (set.key === null) return askSet(store, set, ['count(*)'])[0] === 0 ? -1 : 0
  // SQLite gives a bare column beside min() from the row that has the least.
  const [, of] = askSet(store, set, [`min(${PLACE})`, KEY])
  return set.entries.findIndex(({ key }) => key === of)
}

/** The records of the set, entry after entry, each by id. */
export function membersOf(store: Store, set: SetWrite): { id: number; entry: number }[] {
  const { key, entries } = set
  const source = sourceOf(set)
  const { sql, parameters } = conditionsOf(set, source)
  const { from } = fromSql(set)
  const places = new Map(entries.map((entry, index) => [entry.key, index]))
  const rows = store.rows(
    `${source.sql} SELECT "id", ${key === null ? 'NULL' : KEY} ${from}${whereAll(sql)}`,
    ...source.parameters,
    ...parameters,
  ) as [number, Value][]
  return rows
    .map(([id, of]) => ({ id, entry: key === null ? 0 : places.get(of)! }))
    .sort((one, other) => one.entry - other.entry || one.id - other.id)
}
