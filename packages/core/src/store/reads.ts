import { HookError } from '../errors.js'
import { quote } from '../model/ddl.js'
import { fieldHint } from '../model/names.js'
import { tableNamed } from '../model/table-named.js'
import { gotOf } from '../model/values.js'
import type { Field, Project, RecordValues, Table, Value } from '../model/types.js'
import { sealFunctions } from '../harden.js'
import type { Store } from './database.js'
import { Found } from './found.js'
import { readRows } from './read-rows.js'
import { trap } from './shape.js'
import { orderSql, type OrderBy } from './order.js'
import { bad, fieldOf, whereSql } from './where.js'

/** The reads that hooks may make in `load` and `finish`: set-based, typed, counted. */

export interface ReadMeter {
  /** Called before a query; gives how many rows may still be read. @throws when the budget is spent */
  query(): number
  /** Called with the rows a query found. @param what makes what is told of it, for whoever notes it @throws when the budget is spent */
  rows(count: number, what: () => LookedUp): void
  /** Records of the table that went in this save, where the hook at work may still see them: it runs for deleted rows. */
  gone(table: string): { get(id: number): { was: RecordValues } | undefined } | undefined
}

/** A look-up, as it is told. */
export interface LookedUp {
  call: 'byId' | 'children' | 'find' | 'rollup'
  table: string
  asked: Record<string, unknown>
  ids: number[]
}

/** Held here, since what stands on the globals is slower to reach once they are frozen. */
const { isSafeInteger } = Number

/** Ids of a look-up that are told. */
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
  /** What counts the reads: for one that is made in another way. */
  meter: ReadMeter
}

/** Records that byId keeps for later batches of the same save, over all tables. */
const KEPT = 20_000

export function makeReads(store: Store, project: Project, meter: ReadMeter): SaveReads {
  const tableOf = (name: string): Table => tableNamed(project.tables, name)
  const select = (sql: string, parameters: unknown[], limit: number): unknown[][] => store.rows(sql, ...parameters, limit)

  /** By table, then by the fields that were read: null for an id that is not there. */
  const kept = new Map<string, Map<Reader, Map<number, RecordValues | null>>>()
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

  const reads: Reads = {
    byId(name, ids, fields) {
      const reader = readerOf(tableOf(name), fields)
      const wanted = idList(ids, `byId('${name}')`).sort((a, b) => a - b)
      const records = new Map<number, RecordValues>()
      if (wanted.length === 0) return new Found(records)
      const left = meter.query()
      // Batches of one save ask for the same master records again and again; those are read once. It counts as a query all
      // the same, so that what a save spends does not depend on what happens to be known.
      const known = keptOf(name, reader)
      const missing = wanted.filter((id) => !known.has(id))
      if (missing.length > 0) {
        for (const id of missing) known.set(id, null)
        const from = `FROM ${quote(name)} WHERE "id" IN (SELECT value FROM json_each(?)) LIMIT ?`
        readRows(store, reader.names, from, [JSON.stringify(missing), left], (raw) =>
          known.set(raw[0] as number, reader.make(raw)),
        )
        count += missing.length
      }
      const gone = meter.gone(name)
      for (const id of wanted) {
        const record = known.get(id) ?? goneRecord(reader, gone?.get(id)?.was)
        if (record) records.set(id, record)
      }
      meter.rows(records.size, () => ({
        call: 'byId',
        table: name,
        asked: { ids: first(wanted), ...(fields ? { fields: [...fields] } : {}) },
        ids: first(records.keys()),
      }))
      return new Found(records)
    },
    children(name, link, ids, fields) {
      const table = tableOf(name)
      linkOf(table, link)
      const reader = readerOf(table, fields)
      const wanted = idList(ids, `children('${name}', '${link}')`)
      const lists = new Map<number, RecordValues[]>(wanted.map((id) => [id, []]))
      if (wanted.length === 0) return new Found(lists)
      const left = meter.query()
      // By id within each parent. The index gives them so already; having SQLite sort all of them costs more than looking.
      const unsorted = new Set<RecordValues[]>()
      const from = `FROM ${quote(name)} WHERE ${quote(link)} IN (SELECT value FROM json_each(?)) LIMIT ?`
      const count = readRows(store, [...reader.names, link], from, [JSON.stringify(wanted), left], (raw) => {
        const list = lists.get(raw[raw.length - 1] as number)!
        const before = list.length > 0 ? list[list.length - 1]!.id : 0
        if (before > (raw[0] as number)) unsorted.add(list)
        list.push(reader.make(raw))
      })
      meter.rows(count, () => ({
        call: 'children',
        table: name,
        asked: { link, ids: first(wanted), ...(fields ? { fields: [...fields] } : {}) },
        ids: first([...lists.values()].flatMap((list) => list.map((record) => record.id))),
      }))
      for (const list of unsorted) list.sort((a, b) => a.id - b.id)
      for (const list of lists.values()) Object.freeze(list)
      return new Found(lists)
    },
    find(name, where, options = {}) {
      const table = tableOf(name)
      const reader = readerOf(table, options.fields)
      const { sql, parameters } = whereSql(table, where ?? {})
      const { limit } = options
      if (limit !== undefined && (!isSafeInteger(limit) || limit < 0))
        throw bad(`limit takes a whole number, but got ${gotOf(limit)}`)
      const left = meter.query()
      const records: RecordValues[] = []
      const from = `FROM ${quote(name)}${sql} ORDER BY ${orderSql(table, options.orderBy)} LIMIT ?`
      readRows(store, reader.names, from, [...parameters, Math.min(left, limit ?? left)], (raw) => records.push(reader.make(raw)))
      meter.rows(records.length, () => ({
        call: 'find',
        table: name,
        asked: { where: { ...where }, ...options },
        ids: first(records.map((record) => record.id)),
      }))
      return Object.freeze(records)
    },
    rollup(name, link, ids, what) {
      const table = tableOf(name)
      linkOf(table, link)
      const wanted = idList(ids, `rollup('${name}', '${link}')`)
      for (const field of what.sum ?? []) {
        const known = fieldOf(table, field)
        if (known === 'id' || (known.type !== 'integer' && known.type !== 'number'))
          throw bad(`sum of ${name}.${field}: only numbers can be summed`)
      }
      const parts = (['sum', 'min', 'max'] as const).flatMap((kind) =>
        (what[kind] ?? []).map((field) => ({ kind, field, of: fieldOf(table, field) })),
      )
      const sums = new Map<number, Rolled>(wanted.map((id) => [id, blank(what)]))
      if (wanted.length === 0) return new Found(sums)
      const left = meter.query()
      const columns = parts
        .map(({ kind, field }) => `, ${kind === 'sum' ? `coalesce(sum(${quote(field)}), 0)` : `${kind}(${quote(field)})`}`)
        .join('')
      const rows = select(
        `SELECT ${quote(link)}, count(*)${columns} FROM ${quote(name)} WHERE ${quote(link)} IN (SELECT value FROM json_each(?)) GROUP BY 1 LIMIT ?`,
        [JSON.stringify(wanted)],
        left,
      )
      meter.rows(rows.length, () => ({
        call: 'rollup',
        table: name,
        asked: { link, ids: first(wanted), ...what },
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
    },
  }
  return { store: sealFunctions(reads), forget: (table) => void kept.delete(table), meter }
}

function first(ids: Iterable<number>): number[] {
  const told: number[] = []
  for (const id of ids) if (told.push(id) === TOLD) break
  return told
}

function blank(what: RollupWhat): Rolled {
  const nulls = (fields: readonly string[] = []) => Object.fromEntries(fields.map((field) => [field, null]))
  return {
    count: 0,
    sum: Object.fromEntries((what.sum ?? []).map((field) => [field, 0])),
    min: nulls(what.min),
    max: nulls(what.max),
  }
}

function linkOf(table: Table, name: string): Field {
  const field = fieldOf(table, name)
  if (field === 'id' || !field.link) {
    const links = table.fields.filter((each) => each.link).map((each) => each.name)
    throw bad(`${table.name}.${name} is not a link${links.length ? `; the links of ${table.name} are ${links.join(', ')}` : ''}`)
  }
  return field
}

function idList(ids: Ids, call: string): number[] {
  if (
    ids === null ||
    ids === undefined ||
    typeof (ids as { [Symbol.iterator]?: unknown })[Symbol.iterator] !== 'function' ||
    typeof ids === 'string'
  )
    throw bad(`${call} takes a list of ids, but got ${gotOf(ids)}`)
  const wanted = new Set<number>()
  const list: number[] = []
  for (const id of ids) {
    if (id === null || id === undefined || wanted.has(id)) continue
    if (!isSafeInteger(id)) throw bad(`${call} takes ids, which are integers, but got ${gotOf(id)}`)
    wanted.add(id)
    list.push(id)
  }
  return list
}

/** A record that went, as a look-up gives it. */
function goneRecord({ names, make }: Reader, was: RecordValues | undefined): RecordValues | null {
  return was ? make(names.map((name) => (typeof was[name] === 'boolean' ? Number(was[name]) : was[name]))) : null
}

interface Reader {
  names: readonly string[]
  make: (raw: readonly unknown[]) => RecordValues
}
const readers = new WeakMap<Table, Map<string, Reader>>()

function readerOf(table: Table, fields: readonly string[] | undefined): Reader {
  if (fields !== undefined && !Array.isArray(fields)) throw bad(`fields takes a list of field names, but got ${gotOf(fields)}`)
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
    class Read { id; ${names.map((name) => `${name};`).join(' ')} constructor(raw) { this.id = raw[0]; ${fields.map((field, i) => `this.${field.name} = ${field.type === 'boolean' ? `raw[${i + 1}] === null ? null : raw[${i + 1}] === 1` : `raw[${i + 1}]`};`).join(' ')} } }
    delete Read.prototype.constructor
    Object.setPrototypeOf(Read.prototype, prototype)
    Object.freeze(Read.prototype)
    return (raw) => Object.freeze(new Read(raw))`
  const prototype = Object.freeze(Object.create(trap(unread, new Set(['id', ...names]))) as object)
  const make = (new Function('prototype', source) as (prototype: object) => Reader['make'])(prototype)
  return { names: ['id', ...names], make }
}
