import { quote } from '../model/ddl.js'
import type { Field, Table, Value } from '../model/types.js'
import { toSql } from './records.js'
import { whereSql } from './where.js'

/** Records told as a set, and the SQL by which their entries are named in a statement. */

/** The same fields of many records, and what each is to take. */
export interface SetWrite {
  table: Table
  /** Written; in the table's order. */
  fields: readonly Field[]
  /** What the entries tell records by; null where there is one entry and `rest` tells them. A field other than the id has an index. */
  key: Field | 'id' | null
  /** Conditions that hold for the records of all entries. */
  rest: Readonly<Record<string, unknown>>
  /** In the order in which they were asked for, each of another key. */
  entries: readonly SetEntry[]
  /** Records that it holds for, changed or not, where that is known. */
  count?: number
  /** Is every record known to change? */
  allChange?: boolean
  /** SQL of which nothing may hold for any record of the set; only of sets that are reported by id. */
  never?: readonly string[]
}

export interface SetEntry {
  /** Of an id, an integer, a link or a text; not null. */
  key: Value
  /** A record that is left out. */
  not: number | null
  /** By field, in the order of `fields`, in the form in which they are kept. */
  values: readonly Value[]
}

/** Can records be reported by this field in one statement? */
export const canBeKey = (field: Field | 'id'): boolean =>
  field === 'id' || ((field.type === 'integer' || (field.type === 'string' && field.format !== 'date-time')) && isIndexed(field))

const isIndexed = ({ link, index, unique }: Field): boolean => link !== null || index || unique

/** The columns of the entries; no field has such a name. */
export const [KEY, PLACE, NOT] = ['"ph key"', '"ph place"', '"ph not"'] as const
const valueAt = (index: number): string => `"ph ${index}"`

export interface Sql {
  sql: string
  parameters: readonly unknown[]
}

/** `sql`: `WITH ph_w …`, the entries as rows; empty where none are needed. */
export interface Source extends Sql {
  /** Of each field, the value it takes. */
  values: readonly Sql[]
  /** Of the same, as JSON. */
  json: readonly Sql[]
}

const sources = new WeakMap<SetWrite, Source>()

export function sourceOf(set: SetWrite): Source {
  let source = sources.get(set)
  if (!source) sources.set(set, (source = makeSource(set)))
  return source
}

function makeSource({ fields, key, entries }: SetWrite): Source {
  const constant = constantSource(fields, entries)
  if (key === null) return constant!
  const leavesOut = entries.some(({ not }) => not !== null)
  const named = (names: readonly string[], picked: readonly string[]) =>
    `WITH ph_w (${[KEY, PLACE, ...names].join(', ')}) AS MATERIALIZED (SELECT ${picked.join(', ')} FROM json_each(?))`
  if (constant && !leavesOut)
    return { ...constant, sql: named([], ['value', 'id']), parameters: [JSON.stringify(entries.map((entry) => entry.key))] }
  // One object by key: SQLite reads that faster than a list of lists, and a value faster than a list of one.
  const columns = [
    ...(leavesOut ? [{ name: NOT, of: ({ not }: SetEntry): unknown => not, sql: (item: string) => item }] : []),
    ...(constant ? [] : fields).map((field, index) => ({
      name: valueAt(index),
      of: ({ values }: SetEntry) => given(field, values[index]!),
      sql: (item: string) => (field.type === 'number' ? `ph_number(${item})` : item),
    })),
  ]
  const [only] = columns
  const valueOf = columns.length === 1 ? only!.of : (entry: SetEntry) => columns.map(({ of }) => of(entry))
  const ofText = key !== 'id' && key.type === 'string'
  const keyText = (of: Value) => (ofText ? JSON.stringify(of) : `"${String(of)}"`)
  let text = ''
  for (const entry of entries) text += `${text === '' ? '{' : ','}${keyText(entry.key)}:${JSON.stringify(valueOf(entry))}`
  const items = columns.map(({ sql }, index) => sql(columns.length === 1 ? 'value' : `value ->> ${index}`))
  const sql = named(
    columns.map(({ name }) => name),
    [ofText ? 'key' : 'CAST(key AS INTEGER)', 'id', ...items],
  )
  if (constant) return { ...constant, sql, parameters: [`${text}}`] }
  return {
    sql,
    parameters: [`${text}}`],
    values: fields.map((_, index) => ({ sql: valueAt(index), parameters: [] })),
    json: fields.map((field, index) => ({ sql: jsonSql(field, valueAt(index)), parameters: [] })),
  }
}

/** Of entries that all take the same, as parameters; null where they do not. */
export function constantSource(fields: readonly Field[], entries: readonly SetEntry[]): Source | null {
  const [first] = entries
  if (!entries.every(({ values }) => values.every((value, index) => value === first!.values[index]))) return null
  return {
    sql: '',
    parameters: [],
    values: fields.map((_, index) => ({ sql: '?', parameters: [toSql(first!.values[index]!)] })),
    json: fields.map((_, index) => ({ sql: '?', parameters: [JSON.stringify(first!.values[index])] })),
  }
}

/** Numbers go as text and are read by JavaScript: SQLite's own reading of decimals may be off in the last place. */
const given = ({ type }: Field, value: Value): unknown => (type === 'number' && value !== null ? String(value) : toSql(value))

/** A column's value as JSON.stringify writes it. */
export function jsonSql({ type }: Field, sql: string): string {
  if (type === 'number') return `ph_json(${sql})`
  if (type === 'boolean') return `CASE WHEN ${sql} IS NULL THEN 'null' WHEN ${sql} THEN 'true' ELSE 'false' END`
  return `json_quote(${sql})`
}

/** The conditions on a record to be one of the set. */
export function conditionsOf({ table, key, rest, entries }: SetWrite, source: Source): { sql: string[]; parameters: unknown[] } {
  const { sql, parameters } = whereSql(table, rest)
  const parts = sql === '' ? [] : [sql.slice(' WHERE '.length)]
  if (key !== null && source.sql.includes(NOT) && entries.some(({ not }) => not !== null)) parts.unshift(`"id" IS NOT ${NOT}`)
  return { sql: parts, parameters }
}

export const columnOf = (key: Field | 'id'): string => quote(key === 'id' ? 'id' : key.name)

export function fromSql({ table, key, rest }: SetWrite): { from: string; order: string } {
  const name = quote(table.name)
  if (key === null) return { from: `FROM ${name}`, order: ' ORDER BY "id"' }
  // CROSS JOIN: entry after entry, each by the key's index, which gives its records by id; conditions may import another index.
  const order = Object.keys(rest).length > 0 ? ` ORDER BY ${PLACE}, "id"` : ''
  return { from: `FROM ph_w CROSS JOIN ${name} ON ${columnOf(key)} = ${KEY}`, order }
}

export const whereAll = (parts: readonly string[]): string => (parts.length > 0 ? ` WHERE ${parts.join(' AND ')}` : '')
