import type { BackfillFigures, BackfillInfo, BackfillLeft, BackfillState, BackfillWish, InputRow } from '@patient-hook/contract'
import { HookError, type ErrorReport } from '../errors.js'
import { quote } from '../model/ddl.js'
import { own } from '../own.js'
import type { Table } from '../model/types.js'
import type { Store } from '../store/database.js'
import { orderSql } from '../store/order.js'
import { whereSql } from '../store/where.js'
import { noFigures } from './figures.js'

/** Backfills as they are kept: what is wanted, the records to go through in their order, how far it came, what was left as it is. */

/** Of one backfill so many records that were left are kept with their reason; the rest is counted. */
const MOST_LEFT = 10_000

const COLUMNS = `b.id, b.at, b.user, b.tbl, b.wish, b.undoes, b.state, b.failure, b.total, b.done, b.figures, b.ended,
  (SELECT max(u.id) FROM ph_backfill u WHERE u.undoes = b.id) AS undone_by`

interface Raw {
  id: number
  at: string
  user: string
  tbl: string
  wish: string
  undoes: number | null
  state: BackfillState
  failure: string | null
  total: number
  done: number
  figures: string
  ended: string | null
  undone_by: number | null
}

const read = ({ tbl, wish, undone_by, failure, figures, ...raw }: Raw): BackfillInfo => ({
  ...raw,
  table: tbl,
  wish: JSON.parse(wish) as BackfillWish | null,
  undoneBy: undone_by,
  failure: failure === null ? null : (JSON.parse(failure) as ErrorReport),
  // Those that were kept before new records were counted have none.
  figures: { ...noFigures(), ...(JSON.parse(figures) as BackfillFigures) },
})

/** Backfills that are not ended follow their table: fields that got another name. Within a transaction. */
export function followFields(store: Store, table: string, renames: Readonly<Record<string, string>>): void {
  if (Object.keys(renames).length === 0) return
  const named = (name: string): string => own(renames, name) ?? name
  const keyed = <T>(values: Readonly<Record<string, T>>) =>
    Object.fromEntries(Object.entries(values).map(([name, value]) => [named(name), value]))
  const open = store.rows(
    `SELECT id, wish FROM ph_backfill WHERE tbl = ? AND undoes IS NULL AND state NOT IN ('done', 'cancelled')`,
    table,
  ) as [number, string][]
  for (const [id, text] of open) {
    const { where, order, set, number, ...rest } = JSON.parse(text) as BackfillWish
    const series =
      number && (typeof number.series === 'string' ? number.series : { ...number.series, by: named(number.series.by) })
    const wish: BackfillWish = {
      ...rest,
      where: keyed(where),
      order: order.map((key) => (key.startsWith('-') ? `-${named(key.slice(1))}` : named(key))),
      ...(set ? { set: keyed(set) } : {}),
      ...(number ? { number: { ...number, field: named(number.field), series: series! } } : {}),
    }
    store.run('UPDATE ph_backfill SET wish = ? WHERE id = ?', JSON.stringify(wish), id)
  }
}

/** Newest first. */
export const listBackfills = (store: Store): BackfillInfo[] =>
  (store.objects(`SELECT ${COLUMNS} FROM ph_backfill b ORDER BY b.id DESC LIMIT 200`) as unknown as Raw[]).map(read)

/** @throws HookError backfill/unknown */
export function readBackfill(store: Store, id: number): BackfillInfo {
  const [raw] = store.objects(`SELECT ${COLUMNS} FROM ph_backfill b WHERE b.id = ?`, id) as unknown as Raw[]
  if (!raw) throw new HookError('backfill/unknown', { backfill: id })
  return read(raw)
}

/** Chooses the records of now, in their order. */
export function beginBackfill(store: Store, table: Table, wish: BackfillWish, user: string): number {
  const { sql, parameters } = whereSql(table, wish.where)
  const ids = `SELECT "id" FROM ${quote(table.name)}${sql} ORDER BY ${orderSql(table, wish.order)}`
  const chosen = JSON.parse(store.one(`SELECT json_group_array("id") FROM (${ids})`, ...parameters) as string) as number[]
  const id = add(store, table.name, user, wish, null, chosen.length)
  keepRecords(store, id, chosen)
  return id
}

/** A row of a file, with its number there. */
export type FileRow = [number: number, row: InputRow]

/** Rows are brought part by part before they are begun with: until then they belong to a number below 0. */
export function stageRows(store: Store, stage: number | null, part: number, rows: readonly FileRow[]): number {
  const at = stage ?? Math.min(0, (store.one('SELECT min(job) FROM ph_backfill_part') as number | null) ?? 0) - 1
  keepRecords(store, at, rows, part)
  return at
}

/** What nobody began with. */
export const dropStaged = (store: Store): void => void store.run('DELETE FROM ph_backfill_part WHERE job < 0')

/** @param left rows that cannot be read @param total rows of the stage */
export function beginRows(
  store: Store,
  wish: BackfillWish,
  user: string,
  { stage, total, left, unread }: { stage: number; total: number; left: readonly BackfillLeft[]; unread: number },
): number {
  const id = add(store, wish.table, user, wish, null, total)
  store.run('UPDATE ph_backfill_part SET job = ? WHERE job = ?', id, stage)
  advance(store, id, 0, { ...noFigures(), left: unread }, left)
  return id
}

/** Selects the changes of the other one, latest first. */
export function beginUndo(store: Store, { id: undoes, table }: BackfillInfo, user: string): number {
  const touched = store.rows(
    `SELECT h.tbl, h.record FROM ph_history h JOIN ph_save s ON s.id = h.save WHERE s.job = ? GROUP BY h.tbl, h.record ORDER BY max(h.id) DESC`,
    undoes,
  )
  const id = add(store, table, user, null, undoes, touched.length)
  keepRecords(store, id, touched)
  return id
}

/** The list of records is kept in parts of so many: one row a record takes several times longer to write and to remove. */
export const PART = 1000

function keepRecords(store: Store, id: number, records: readonly unknown[], first = 0): void {
  for (let from = 0; from < records.length; from += PART)
    store.run(
      'INSERT INTO ph_backfill_part (job, part, records) VALUES (?, ?, ?)',
      id,
      first + from / PART,
      JSON.stringify(records.slice(from, from + PART)),
    )
}

/** Records from the place that it came to. */
function next(store: Store, { id, done }: BackfillInfo, count: number): unknown[] {
  const first = Math.floor(done / PART)
  const parts = store.values(
    'SELECT records FROM ph_backfill_part WHERE job = ? AND part BETWEEN ? AND ? ORDER BY part',
    id,
    first,
    Math.floor((done + count - 1) / PART),
  ) as string[]
  const from = done - first * PART
  // Not flatMap, which takes ten times as long.
  return ([] as unknown[]).concat(...parts.map((records) => JSON.parse(records) as unknown[])).slice(from, from + count)
}

function add(store: Store, table: string, user: string, wish: BackfillWish | null, undoes: number | null, total: number): number {
  return store.run(
    `INSERT INTO ph_backfill (at, user, tbl, wish, undoes, state, total, done, figures) VALUES (?, ?, ?, ?, ?, 'running', ?, 0, ?)`,
    new Date().toISOString(),
    user,
    table,
    JSON.stringify(wish),
    undoes,
    total,
    JSON.stringify(noFigures()),
  ).lastInsertRowid as number
}

/** The records of its table after those that it has been through; of one that undoes another they are of several tables. */
export const nextIds = (store: Store, backfill: BackfillInfo, count: number): number[] => next(store, backfill, count) as number[]

/** Rows of a file after those that it has been through. */
export const nextRows = (store: Store, backfill: BackfillInfo, count: number): FileRow[] =>
  next(store, backfill, count) as FileRow[]

/** The same with their tables. */
export const nextRecords = (store: Store, backfill: BackfillInfo, count: number): { table: string; id: number }[] =>
  (next(store, backfill, count) as [string, number][]).map(([table, id]) => ({ table, id }))

/** Moves the cursor, in the transaction of the batch. */
export function advance(store: Store, id: number, done: number, figures: BackfillFigures, left: readonly BackfillLeft[]): void {
  store.run('UPDATE ph_backfill SET done = ?, figures = ? WHERE id = ?', done, JSON.stringify(figures), id)
  const kept = left.length > 0 ? (store.one('SELECT count(*) FROM ph_backfill_left WHERE job = ?', id) as number) : 0
  for (const { table, id: record, field, message } of left.slice(0, Math.max(0, MOST_LEFT - kept)))
    store.run(
      'INSERT INTO ph_backfill_left (job, tbl, record, field, message) VALUES (?, ?, ?, ?, ?)',
      id,
      table,
      record,
      field,
      message,
    )
}

/** Of one that has ended the list of records is not needed any more. */
export function setState(store: Store, id: number, state: BackfillState, failure: ErrorReport | null = null): void {
  const ends = state === 'done' || state === 'cancelled'
  const at = ends ? new Date().toISOString() : null
  store.run(
    'UPDATE ph_backfill SET state = ?, failure = ?, ended = ? WHERE id = ?',
    state,
    failure && JSON.stringify(failure),
    at,
    id,
  )
  if (ends) store.run('DELETE FROM ph_backfill_part WHERE job = ?', id)
}

/** In the order in which they were met. @param count how many at most */
export const leftIn = (store: Store, id: number, count: number): BackfillLeft[] =>
  store.objects(
    'SELECT tbl AS "table", record AS id, field, message FROM ph_backfill_left WHERE job = ? ORDER BY id LIMIT ?',
    id,
    count,
  ) as unknown as BackfillLeft[]
