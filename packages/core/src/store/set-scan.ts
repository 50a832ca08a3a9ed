import { quote } from '../model/ddl.js'
import type { Store } from './database.js'
import { columnOf, type SetWrite } from './set-source.js'

/**
 * A set told by links or other integers that makes up a large part of its table, gone through as the records lie in it. By the index of the key
 * SQLite comes to them key after key; where those of one key lie all over the table, nearly each of them is on another page.
 */

/** The records whose key is neither lower nor higher are those of the set, and no others. */
export interface SetScan {
  low: number
  high: number
}

/** Fewer records than this are written soon either way. */
const FEWEST = 1000

/** The least part of the table, by the span of its ids: a scan also comes by the records that are none of the set (measured: bench/NOTES.md). */
const LEAST_PART = 0.4

/** At so many keys is looked how their records lie, and so many times as wide as they are many the ids of one key are at least. */
const [SAMPLES, LEAST_SPREAD] = [8, 8]

/** @returns null where that would not be quicker, as far as can be determined at little cost, or records that are none of the set lie between */
export function scanOf(store: Store, set: SetWrite): SetScan | null {
  const { table, key, rest, entries, count = 0 } = set
  if (key === null || key === 'id' || key.type !== 'integer' || count < FEWEST) return null
  if (Object.keys(rest).length > 0 || entries.some(({ not }) => not !== null)) return null
  const name = quote(table.name)
  const span = store.one(`SELECT (SELECT max("id") FROM ${name}) - (SELECT min("id") FROM ${name}) + 1`) as number
  if (count < span * LEAST_PART) return null
  const column = columnOf(key)
  const keys = entries.map((entry) => entry.key as number)
  return isSpread(store, name, column, keys) ? withoutOthers(store, name, column, keys) : null
}

/** Do the records of one key lie far apart? */
function isSpread(store: Store, name: string, column: string, keys: readonly number[]): boolean {
  const step = Math.max(1, Math.floor(keys.length / SAMPLES))
  let [records, width] = [0, 0]
  for (let at = 0; at < keys.length; at += step) {
    const sample = `SELECT count(*), max("id") - min("id") + 1 FROM ${name} WHERE ${column} = ?`
    const [count, wide] = store.rows(sample, keys[at]!)[0] as [number, number | null]
    records += count
    width += wide ?? 0
  }
  return width >= records * LEAST_SPREAD
}

/** @returns null where there is a record whose key lies between those of the set, and is none of them */
function withoutOthers(store: Store, name: string, column: string, keys: readonly number[]): SetScan | null {
  const told = new Set(keys)
  let [low, high] = [keys[0]!, keys[0]!]
  for (const key of keys) {
    if (key < low) low = key
    if (key > high) high = key
  }
  if (high - low >= 2 * keys.length) return null
  const gaps: number[] = []
  for (let key = low; key < high; key++) if (!told.has(key)) gaps.push(key)
  const inGaps = `SELECT 1 FROM ${name} WHERE ${column} IN (SELECT value FROM json_each(?)) LIMIT 1`
  return gaps.length > 0 && store.one(inGaps, JSON.stringify(gaps)) !== undefined ? null : { low, high }
}
