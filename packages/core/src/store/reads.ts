import { entry } from '../entry/entry.js'
import { data, ids as idsReader, scalar } from '../entry/readers.js'
import { HookError } from '../errors.js'
import { quote } from '../model/ddl.js'
import { fieldHint, hintFor } from '../model/names.js'
import { tableNamed } from '../model/table-named.js'
import { gotOf } from '../model/values.js'
import type { Field, Project, RecordValues, Table, Value } from '../model/types.js'
import { sealFunctions } from '../harden.js'
import type { Store } from './database.js'
import { Found } from '../entry/found.js'
import { readRows } from './read-rows.js'
import { toSql } from './records.js'
import { at, keyOf, trap } from './shape.js'
import { orderSql, type OrderBy } from './order.js'
import { bad, fieldOf, whereSql } from './where.js'

/** The reads that hooks may make in `load` and `finish`: set-based, typed, counted. */

export interface ReadMeter {
  /**
   * Called before a query; gives how many rows may still be read.
   * @param isKnown all that is asked for is known already @throws when the budget is spent
   */
  query(isKnown?: boolean): number
  /** Called with the rows a query found. @param what makes what is reported about it, for anyone who notes it @throws when the budget is spent */
  rows(count: number, what: () => LookedUp): void
  /** Records of the table that went in this save, where the hook at work may still see them: it runs for deleted rows. */
  gone(table: string): { get(id: number): { was: RecordValues } | undefined } | undefined
}

/** A look-up, as it is reported. */
export interface LookedUp {
  call: 'byId' | 'children' | 'find' | 'rollup'
  table: string
  asked: Record<string, unknown>
  ids: number[]
}

/** Held here, since what stands on the globals is slower to reach once they are frozen. */
const { isSafeInteger } = Number

/** Ids of a look-up that are reported. */
const TOLD = 100

export type Ids = Iterable<number | null | undefined>
export interface FindOptions {
  fields?: readonly string[]
  orderBy?: OrderBy
  limit?: number
}
export interface RollupWhat {
  count?: boolean
  sum?: readonly string[]
  min?: readonly string[]
  max?: readonly string[]
}
export interface Rolled {
  count: number
  sum: Record<string, number>
  min: Record<string, Value>
  max: Record<string, Value>
}
export interface Reads {
  byId(table: string, ids: Ids, fields?: readonly string[]): Found<RecordValues>
  children(table: string, link: string, ids: Ids, fields?: readonly string[]): Found<readonly RecordValues[]>
  find(table: string, where: Record<string, unknown>, options?: FindOptions): readonly RecordValues[]
  rollup(table: string, link: string, ids: Ids, what: RollupWhat): Found<Rolled>
}

/** The reads, and what the save path tells them. */
export interface SaveReads {
  /** What hooks are given. */
  store: Reads
  /** A table was written: what is known of its records no longer holds. */
  forget(table: string): void
  /** Records as they were just written, until their table is written again: to be given without another query. */
  remember(table: string, records: ReadonlyMap<number, RecordValues>): void
  /** What counts the reads: for one that is made in another way. */
  meter: ReadMeter
}

/** Records that byId keeps for later batches of the same save, over all tables. */
const KEPT = 20_000

export function makeReads(store: Store, project: Project, meter: ReadMeter): SaveReads {
  const tableOf = (name: unknown): Table => tableNamed(project.tables, typeof name === 'string' ? name : gotOf(name))
  const select = (sql: string, parameters: unknown[], limit: number): unknown[][] => store.rows(sql, ...parameters, limit)

  /** By table, then by the fields that were read: null for an id that is not there. */
  const kept = new Map<string, Map<Reader, Map<number, RecordValues | null>>>()
  const written = new Map<string, ReadonlyMap<number, RecordValues>>()
  let count = 0
  const keptOf = (name: string, reader: Reader): Map<number, RecordValues | null> => {
    if (count > KEPT) {
      kept.clear()
      count = 0
    }
    const ofTable = kept.get(name) ?? new Map<Reader, Map<number, RecordValues | null>>()
    kept.set(name, ofTable)
    const known = ofTable.get(reader) ?? new Map<number, RecordValues | null>()
    ofTable.set(reader, known)
    return known
  }

  const byId = (name: string, wantedIds: unknown, fields: unknown): Found<RecordValues> => {
    const table = tableOf(name)
    const reader = readerOf(table, fields)
    const wanted = idList(wantedIds, `byId('${table.name}')`).sort((a, b) => a - b)
    const records = new Map<number, RecordValues>()
    if (wanted.length === 0) return new Found(records)
    // Batches of one save ask for the same master records again and again; those are read once. It counts as a query all
    // the same, so that what a save spends does not depend on what happens to be known.
    const known = keptOf(table.name, reader)
    const fresh = written.get(table.name)
    const missing: number[] = []
    for (const id of wanted) {
      if (known.has(id)) continue
      const record = fresh?.get(id)
      if (record) known.set(id, reader.make(reader.names.map((field) => toSql(record[field]!))))
      else missing.push(id)
    }
    const left = meter.query(missing.length === 0)
    if (missing.length > 0) {
      const found = new Map<number, RecordValues>()
      const from = `FROM ${quote(table.name)} WHERE "id" IN (SELECT value FROM json_each(?)) LIMIT ?`
      readRows(store, reader.names, from, [JSON.stringify(missing), left], (raw) => found.set(raw[0] as number, reader.make(raw)))
      // Only now: the query may have been ended by an error that hook code caught.
      for (const id of missing) known.set(id, found.get(id) ?? null)
      count += missing.length
    }
    const gone = meter.gone(table.name)
    for (const id of wanted) {
      const record = known.get(id) ?? goneRecord(reader, gone?.get(id)?.was)
      if (record) records.set(id, record)
    }
    meter.rows(records.size, () => ({
      call: 'byId',
      table: table.name,
      asked: { ids: first(wanted), ...(reader.asked ? { fields: reader.asked } : {}) },
      ids: first(records.keys()),
    }))
    return new Found(records)
  }
  const children = (name: string, linkName: unknown, wantedIds: unknown, fields: unknown): Found<readonly RecordValues[]> => {
    const table = tableOf(name)
    const link = linkOf(table, linkName).name
    const reader = readerOf(table, fields)
    const wanted = idList(wantedIds, `children('${table.name}', '${link}')`)
    const lists = new Map<number, RecordValues[]>(wanted.map((id) => [id, []]))
    if (wanted.length === 0) return new Found(lists)
    const left = meter.query()
    // By id within each parent. The index gives them so already; having SQLite sort all of them costs more than looking.
    const unsorted = new Set<RecordValues[]>()
    const from = `FROM ${quote(table.name)} WHERE ${quote(link)} IN (SELECT value FROM json_each(?)) LIMIT ?`
    const count = readRows(store, [...reader.names, link], from, [JSON.stringify(wanted), left], (raw) => {
      const list = lists.get(raw[raw.length - 1] as number)!
      const before = list.length > 0 ? list[list.length - 1]!.id : 0
      if (before > (raw[0] as number)) unsorted.add(list)
      list.push(reader.make(raw))
    })
    meter.rows(count, () => ({
      call: 'children',
      table: table.name,
      asked: { link, ids: first(wanted), ...(reader.asked ? { fields: reader.asked } : {}) },
      ids: first([...lists.values()].flatMap((list) => list.map((record) => record.id))),
    }))
    for (const list of unsorted) list.sort((a, b) => a.id - b.id)
    for (const list of lists.values()) Object.freeze(list)
    return new Found(lists)
  }
  const find = (name: string, where: unknown, given: unknown): readonly RecordValues[] => {
    const table = tableOf(name)
    const { fields, orderBy, limit } = partsOf(given, ['fields', 'orderBy', 'limit'], 'the options of find')
    const reader = readerOf(table, fields)
    const { sql, parameters } = whereSql(table, (where ?? {}) as Record<string, unknown>)
    if (limit !== undefined && (!isSafeInteger(limit) || (limit as number) < 0))
      throw bad(`limit takes a whole number, but got ${gotOf(limit)}`)
    const order = orderSql(table, orderBy as OrderBy | undefined)
    const left = meter.query()
    const records: RecordValues[] = []
    const from = `FROM ${quote(table.name)}${sql} ORDER BY ${order} LIMIT ?`
    const most = Math.min(left, (limit as number | undefined) ?? left)
    readRows(store, reader.names, from, [...parameters, most], (raw) => records.push(reader.make(raw)))
    meter.rows(records.length, () => ({
      call: 'find',
      table: table.name,
      asked: { where, ...(given as object | undefined) },
      ids: first(records.map((record) => record.id)),
    }))
    return Object.freeze(records)
  }
  const rollup = (name: string, linkName: unknown, wantedIds: unknown, given: unknown): Found<Rolled> => {
    const table = tableOf(name)
    const link = linkOf(table, linkName).name
    const wanted = idList(wantedIds, `rollup('${table.name}', '${link}')`)
    const asked = partsOf(given, ['count', ...AGGREGATES], 'what rollup computes')
    const parts = AGGREGATES.flatMap((kind) =>
      namesOf(asked[kind], `${kind} of rollup`).map((field) => ({ kind, field, of: fieldOf(table, field) })),
    )
    for (const { kind, field, of } of parts)
      if (kind === 'sum' && (of === 'id' || (of.type !== 'integer' && of.type !== 'number')))
        throw bad(`sum of ${table.name}.${field}: only numbers can be summed`)
    const sums = new Map<number, Rolled>(wanted.map((id) => [id, blank(parts)]))
    if (wanted.length === 0) return new Found(sums)
    const left = meter.query()
    const columns = parts
      .map(({ kind, field }) => `, ${kind === 'sum' ? `coalesce(sum(${quote(field)}), 0)` : `${kind}(${quote(field)})`}`)
      .join('')
    const rows = select(
      `SELECT ${quote(link)}, count(*)${columns} FROM ${quote(table.name)} WHERE ${quote(link)} IN (SELECT value FROM json_each(?)) GROUP BY 1 LIMIT ?`,
      [JSON.stringify(wanted)],
      left,
    )
    meter.rows(rows.length, () => ({
      call: 'rollup',
      table: table.name,
      asked: { link, ids: first(wanted), ...asked },
      ids: first(wanted),
    }))
    for (const raw of rows) {
      const rolled = sums.get(raw[0] as number)!
      rolled.count = raw[1] as number
      parts.forEach(({ kind, field, of }, index) => {
        const value = raw[index + 2] as Value
        rolled[kind][field] = (of !== 'id' && of.type === 'boolean' && value !== null ? value === 1 : value) as never
      })
    }
    for (const rolled of sums.values()) for (const part of [rolled.sum, rolled.min, rolled.max, rolled]) Object.freeze(part)
    return new Found(sums)
  }
  const reads: Reads = {
    byId: entry('store.byId', [scalar, idsReader, data], (name, ids, fields) => byId(name as string, ids, fields)),
    children: entry('store.children', [scalar, scalar, idsReader, data], (name, link, ids, fields) =>
      children(name as string, link, ids, fields),
    ),
    find: entry('store.find', [scalar, data, data], (name, where, options) => find(name as string, where, options)),
    rollup: entry('store.rollup', [scalar, scalar, idsReader, data], (name, link, ids, what) =>
      rollup(name as string, link, ids, what),
    ),
  }
  return {
    store: sealFunctions(reads),
    forget(table) {
      kept.delete(table)
      written.delete(table)
    },
    remember: (table, records) => void written.set(table, records),
    meter,
  }
}

function first(ids: Iterable<number>): number[] {
  const told: number[] = []
  for (const id of ids) if (told.push(id) === TOLD) break
  return told
}

/** What SQLite computes over the children of a record. */
const AGGREGATES = ['sum', 'min', 'max'] as const

function blank(parts: readonly { kind: (typeof AGGREGATES)[number]; field: string }[]): Rolled {
  const rolled: Rolled = { count: 0, sum: {}, min: {}, max: {} }
  for (const { kind, field } of parts) rolled[kind][field] = (kind === 'sum' ? 0 : null) as never
  return rolled
}

/** The named parts of an argument that is an object; all undefined where there is none. @param given plain data */
function partsOf<N extends string>(given: unknown, names: readonly N[], what: string): { [K in N]?: unknown } {
  if (given === undefined) return {}
  if (gotOf(given) !== 'an object') throw bad(`${what}: takes an object, but got ${gotOf(given)}`)
  for (const name of Object.keys(given as object))
    if (!names.includes(name as N)) throw bad(`${what}: there is no ${name}${hintFor(name, names)}`)
  return given as { [K in N]?: unknown }
}

/** @param given plain data */
function namesOf(given: unknown, what: string): readonly string[] {
  if (given === undefined) return []
  if (!Array.isArray(given)) throw bad(`${what} takes a list of field names, but got ${gotOf(given)}`)
  for (const name of given) if (typeof name !== 'string') throw bad(`${what} takes field names, but got ${gotOf(name)}`)
  return given as string[]
}

function linkOf(table: Table, name: unknown): Field {
  const field = fieldOf(table, typeof name === 'string' ? name : gotOf(name))
  if (field === 'id' || !field.link) {
    const links = table.fields.filter((each) => each.link).map((each) => each.name)
    throw bad(`${table.name}.${name} is not a link${links.length ? `; the links of ${table.name} are ${links.join(', ')}` : ''}`)
  }
  return field
}

/** @param ids plain data */
function idList(ids: unknown, call: string): number[] {
  if (!Array.isArray(ids)) throw bad(`${call} takes a list or a Set of ids, but got ${gotOf(ids)}`)
  const wanted = new Set<number>()
  for (const id of ids as unknown[]) {
    if (id === null || id === undefined) continue
    if (!isSafeInteger(id)) throw bad(`${call} takes ids, which are integers, but got ${gotOf(id)}`)
    wanted.add(id as number)
  }
  return [...wanted]
}

/** A record that went, as a look-up gives it. */
function goneRecord({ names, make }: Reader, was: RecordValues | undefined): RecordValues | null {
  return was ? make(names.map((name) => (typeof was[name] === 'boolean' ? Number(was[name]) : was[name]))) : null
}

interface Reader {
  names: readonly string[]
  make: (raw: readonly unknown[]) => RecordValues
  /** The fields as they were asked for; null for all. */
  asked: readonly string[] | null
}
const readers = new WeakMap<Table, Map<string, Reader>>()

/** @param given plain data */
function readerOf(table: Table, given: unknown): Reader {
  const fields = given === undefined ? undefined : namesOf(given, 'fields')
  for (const name of fields ?? []) fieldOf(table, name)
  const key = fields ? fields.join(',') : '*'
  const cache = readers.get(table) ?? new Map<string, Reader>()
  readers.set(table, cache)
  let reader = cache.get(key)
  if (!reader) cache.set(key, (reader = makeReader(table, fields)))
  return reader
}

function makeReader(table: Table, wanted: readonly string[] | undefined): Reader {
  const names = [...new Set(wanted ?? table.fields.map((field) => field.name))].filter((name) => name !== 'id')
  const fields = names.map((name) => fieldOf(table, name) as Field)
  const all = new Set(['id', ...table.fields.map((field) => field.name)])
  const unread = (field: string) =>
    all.has(field)
      ? bad(`${table.name}.${field} was not read: add '${field}' to the fields of the look-up`)
      : new HookError('hook/unknown-field', { table: table.name, field, hint: fieldHint(field, table) })
  const source = `
    'use strict'
    class Read { id; ${names.map((name) => `${keyOf(name)};`).join(' ')} constructor(raw) { this.id = raw[0]; ${fields.map((field, i) => `this${at(field.name)} = ${field.type === 'boolean' ? `raw[${i + 1}] === null ? null : raw[${i + 1}] === 1` : `raw[${i + 1}]`};`).join(' ')} } }
    delete Read.prototype.constructor
    Object.setPrototypeOf(Read.prototype, prototype)
    Object.freeze(Read.prototype)
    return (raw) => Object.freeze(new Read(raw))`
  const prototype = Object.freeze(Object.create(trap(unread, new Set(['id', ...names]))) as object)
  const make = (new Function('prototype', source) as (prototype: object) => Reader['make'])(prototype)
  return { names: ['id', ...names], make, asked: wanted ?? null }
}
