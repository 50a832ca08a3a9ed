import type { Statement } from 'better-sqlite3'
import { quote } from '../model/ddl.js'
import type { Field, RecordValues, Table, Value } from '../model/types.js'
import type { Store } from './database.js'
import { readRows } from './read-rows.js'
import { KEEP_NEXT } from './sequences.js'
import { shapeOf, type Shape } from './shape.js'
import { Unfit } from './unfit.js'

/** Reads and writes of whole records, by id, for the save path. */

export const toSql = (value: Value): unknown => (typeof value === 'boolean' ? (value ? 1 : 0) : value)

/**
 * A value out of a JSON list as the column has it: SQLite reads 9223372036854775000 as an integer there, which is not the number
 * that a REAL column keeps.
 */
export const jsonNumber = ({ type }: Field, sql: string): string => (type === 'number' ? `CAST(${sql} AS REAL)` : sql)

/**
 * The records with these ids in one query.
 * @param doubts SQL that may hold for none of them
 * @returns null where it does
 */
export function readByIds(store: Store, shape: Shape, ids: readonly number[]): Map<number, RecordValues>
export function readByIds(
  store: Store,
  shape: Shape,
  ids: readonly number[],
  doubts: readonly string[],
): Map<number, RecordValues> | null
export function readByIds(
  store: Store,
  shape: Shape,
  ids: readonly number[],
  doubts: readonly string[] = [],
): Map<number, RecordValues> | null {
  const records = new Map<number, RecordValues>()
  const table = quote(shape.table.name)
  const doubt = doubts.length > 0 ? `CASE WHEN ${doubts.join(' OR ')} THEN ph_unfit() END` : null
  // Of what json_each gives, nothing may have the name of a field.
  const from = `FROM (SELECT value AS "ph key" FROM json_each(?)) CROSS JOIN ${table} ON ${table}."id" = "ph key"${doubt ? ` WHERE ${doubt} IS NULL` : ''}`
  const keep = (raw: readonly unknown[]) => {
    const record = shape.fromRaw(raw)
    records.set(record.id, record)
  }
  try {
    readRows(store, shape.names, from, [JSON.stringify(ids)], keep, shape.table.name)
  } catch (error) {
    if (error instanceof Unfit) return null
    throw error
  }
  return records
}

/** Which of these ids exist. */
export function existing(store: Store, table: string, ids: readonly number[]): Set<number> {
  const sql = `SELECT "id" FROM ${quote(table)} WHERE "id" IN (SELECT value FROM json_each(?))`
  return new Set(store.values(sql, JSON.stringify(ids)) as number[])
}

/** Takes `count` new ids of a table, from `least` on: the first of them. Ids are never given twice, also after a delete. */
export function takeIds(store: Store, table: string, count: number, least = 1): number {
  const key = `#${table}`
  const kept = store.one('SELECT next FROM ph_sequence WHERE name = ?', key) as number | undefined
  const highest = store.one(`SELECT coalesce(max("id"), 0) FROM ${quote(table)}`) as number
  const first = Math.max(kept ?? 1, highest + 1, least)
  store.run(KEEP_NEXT, key, first + count)
  return first
}

/** The ids of records that go are not given again: the history of a new record would begin with the life of an old one. */
export function retireIds(store: Store, table: string, ids: readonly number[]): void {
  let highest = 0
  for (const id of ids) if (id > highest) highest = id
  store.run(
    'INSERT INTO ph_sequence (name, next) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET next = max(next, excluded.next)',
    `#${table}`,
    highest + 1,
  )
}

/** One prepared statement, run for every record: measured faster than statements of many rows, whose binding costs more. */
export function insertRecords(store: Store, shape: Shape, records: readonly RecordValues[]): void {
  if (records.length === 0) return
  const places = Array<string>(shape.fields.length + 1)
    .fill('?')
    .join(', ')
  const statement = store.writer(`INSERT INTO ${quote(shape.table.name)} (${shape.columns}) VALUES (${places})`)
  store.work(() => {
    for (const record of records) shape.insert(statement, record)
  })
}

interface Plan {
  names: string[]
  write: (statement: Statement, record: RecordValues) => void
  one: Statement
  many: Statement
}
interface Change {
  record: RecordValues
  fields: readonly number[]
}

/**
 * Writes the changed fields of each record. Records that stand together and take the same values (children that their
 * parent pushed a value to) are written by one statement.
 */
export const updateRecords = (store: Store, shape: Shape, changes: readonly Change[]): void =>
  store.work(() => updateEach(store, shape, changes))

function updateEach(store: Store, shape: Shape, changes: readonly Change[]): void {
  const plans = new Map<string, Plan>()
  let last: readonly number[] = []
  let plan: Plan | undefined
  for (let at = 0; at < changes.length;) {
    const { record, fields } = changes[at]!
    // Most rows of a batch change the same fields as the row before.
    const key = plan && sameFields(last, fields) ? null : fields.join()
    if (key !== null) plan = plans.get(key)
    last = fields
    if (!plan) {
      const names = fields.map((index) => shape.fields[index]!.name)
      const sql = `UPDATE ${quote(shape.table.name)} SET ${names.map((name) => `${quote(name)} = ?`).join(', ')} WHERE "id"`
      plan = {
        names,
        write: shape.update(fields),
        one: store.writer(`${sql} = ?`),
        many: store.writer(`${sql} IN (SELECT value FROM json_each(?))`),
      }
      plans.set(key!, plan)
    }
    const { names } = plan
    let end = at + 1
    while (end < changes.length && isSame(changes[at]!, changes[end]!, names)) end++
    if (end === at + 1) plan.write(plan.one, record)
    else
      plan.many.run(
        names.map((name) => toSql(record[name]!)),
        JSON.stringify(changes.slice(at, end).map((each) => each.record.id)),
      )
    at = end
  }
}

function isSame(a: Change, b: Change, names: readonly string[]): boolean {
  return !names.some((name) => a.record[name] !== b.record[name]) && sameFields(a.fields, b.fields)
}

function sameFields(a: readonly number[], b: readonly number[]): boolean {
  if (a.length !== b.length) return false
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false
  return true
}

export function deleteRecords(store: Store, table: Table, ids: readonly number[]): void {
  store.run(`DELETE FROM ${quote(table.name)} WHERE "id" IN (SELECT value FROM json_each(?))`, JSON.stringify(ids))
}

/** Puts records in as they are, without hooks: fixtures and first data. */
export function loadRecords(store: Store, table: Table, records: readonly RecordValues[]): void {
  const shape = shapeOf(table)
  insertRecords(
    store,
    shape,
    records.map((record) => Object.assign(shape.empty(record.id), record)),
  )
}
