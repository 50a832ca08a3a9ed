import { quote } from '../model/ddl.js'
import type { Field, Table, Value } from '../model/types.js'
import type { Store } from './database.js'
import { toSql } from './records.js'
import { whereSql } from './where.js'

/**
 * The same fields of many records written by one statement, and their history by another, without reading the records: for where nothing
 * looks at the single one. What is as it should be already is left alone.
 */
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
}

export interface SetEntry {
  /** Of an id, an integer, a link or a text; not null. */
  key: Value
  /** A record that is left out. */
  not: number | null
  /** By field, in the order of `fields`, in the form in which they are kept. */
  values: readonly Value[]
}

/** What the history says of a set. */
export interface SetHistory {
  save: number
  depth: number
  /** Who set the field, as in the history's cause. */
  by: (field: Field) => string
}

/** Can records be told by this field in one statement? */
export const canBeKey = (field: Field | 'id'): boolean =>
  field === 'id' || ((field.type === 'integer' || (field.type === 'string' && field.format !== 'date-time')) && isIndexed(field))

const isIndexed = ({ link, index, unique }: Field): boolean => link !== null || index || unique

/** The columns of the entries; no field has such a name. */
const [KEY, PLACE, NOT] = ['"ph key"', '"ph place"', '"ph not"']
const valueAt = (index: number): string => `"ph ${index}"`

interface Source {
  /** `WITH ph_w …`: the entries as rows. */
  sql: string
  parameters: unknown[]
  /** Of each field, the value it takes. */
  values: readonly { sql: string; parameters: readonly unknown[] }[]
  /** Of the same, as JSON. */
  json: readonly { sql: string; parameters: readonly unknown[] }[]
}

const sources = new WeakMap<SetWrite, Source>()

function sourceOf(set: SetWrite): Source {
  let source = sources.get(set)
  if (!source) sources.set(set, (source = makeSource(set)))
  return source
}

function makeSource({ fields, key, entries }: SetWrite): Source {
  const [first] = entries
  const alike = entries.every(({ values }) => values.every((value, index) => value === first!.values[index]))
  const constants = {
    values: fields.map((_, index) => ({ sql: '?', parameters: [toSql(first!.values[index]!)] })),
    json: fields.map((_, index) => ({ sql: '?', parameters: [JSON.stringify(first!.values[index])] })),
  }
  if (key === null) return { sql: '', parameters: [], ...constants }
  const leavesOut = entries.some(({ not }) => not !== null)
  const named = (names: readonly string[], picked: readonly string[]) =>
    `WITH ph_w (${[KEY, PLACE, ...names].join(', ')}) AS MATERIALIZED (SELECT ${picked.join(', ')} FROM json_each(?))`
  if (alike && !leavesOut)
    return { sql: named([], ['value', 'id']), parameters: [JSON.stringify(entries.map((entry) => entry.key))], ...constants }
  // One object by key: SQLite reads that faster than a list of lists, and a value faster than a list of one.
  const columns = [
    ...(leavesOut ? [{ name: NOT, of: ({ not }: SetEntry): unknown => not, sql: (item: string) => item }] : []),
    ...(alike ? [] : fields).map((field, index) => ({
      name: valueAt(index),
      of: ({ values }: SetEntry) => given(field, values[index]!),
      sql: (item: string) => (field.type === 'number' ? `ph_number(${item})` : item),
    })),
  ]
  const [only] = columns
  const valueOf = columns.length === 1 ? only!.of : (entry: SetEntry) => columns.map(({ of }) => of(entry))
  let text = ''
  for (const entry of entries)
    text += `${text === '' ? '{' : ','}${JSON.stringify(String(entry.key))}:${JSON.stringify(valueOf(entry))}`
  const ofText = key !== 'id' && key.type === 'string'
  const items = columns.map(({ sql }, index) => sql(columns.length === 1 ? 'value' : `value ->> ${index}`))
  const sql = named(
    columns.map(({ name }) => name),
    [ofText ? 'key' : 'CAST(key AS INTEGER)', 'id', ...items],
  )
  if (alike) return { sql, parameters: [`${text}}`], ...constants }
  return {
    sql,
    parameters: [`${text}}`],
    values: fields.map((_, index) => ({ sql: valueAt(index), parameters: [] })),
    json: fields.map((field, index) => ({ sql: jsonSql(field, valueAt(index)), parameters: [] })),
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
function conditionsOf({ table, key, rest, entries }: SetWrite, source: Source): { sql: string[]; parameters: unknown[] } {
  const { sql, parameters } = whereSql(table, rest)
  const parts = sql === '' ? [] : [sql.slice(' WHERE '.length)]
  if (key !== null && source.sql.includes(NOT) && entries.some(({ not }) => not !== null)) parts.unshift(`"id" IS NOT ${NOT}`)
  return { sql: parts, parameters }
}

const columnOf = (key: Field | 'id'): string => quote(key === 'id' ? 'id' : key.name)

function fromSql({ table, key, rest }: SetWrite): { from: string; order: string } {
  const name = quote(table.name)
  if (key === null) return { from: `FROM ${name}`, order: ' ORDER BY "id"' }
  // CROSS JOIN: entry after entry, each by the key's index, which gives its records by id; conditions may bring in another index.
  const order = Object.keys(rest).length > 0 ? ` ORDER BY ${PLACE}, "id"` : ''
  return { from: `FROM ph_w CROSS JOIN ${name} ON ${columnOf(key)} = ${KEY}`, order }
}

const whereAll = (parts: readonly string[]): string => (parts.length > 0 ? ` WHERE ${parts.join(' AND ')}` : '')

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

/** How many records there are in the set, changed or not. */
export function countSet(store: Store, set: SetWrite): number {
  const { table, key, rest, entries } = set
  if (key === null || entries.some(({ not }) => not !== null)) return askSet(store, set, ['count(*)'])[0] as number
  const where = whereSql(table, rest)
  const parts = [
    `${columnOf(key)} IN (SELECT value FROM json_each(?))`,
    ...(where.sql === '' ? [] : [where.sql.slice(' WHERE '.length)]),
  ]
  const keys = JSON.stringify(entries.map((entry) => entry.key))
  return store.one(`SELECT count(*) FROM ${quote(table.name)}${whereAll(parts)}`, keys, ...where.parameters) as number
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

/** Writes the set, and its history where that is wanted. @returns how many records changed */
export function writeSet(store: Store, set: SetWrite, history: SetHistory | null): number {
  const noted = history && writeSetHistory(store, set, history)
  if (noted === 0) return 0
  const changed = set.key === 'id' ? updateById(store, set) : updateByEntry(store, set)
  if (noted !== null && noted !== changed)
    throw new Error(`${changed} records of ${set.table.name} were written as a set, with ${noted} lines of history`)
  return changed
}

function writeSetHistory(store: Store, set: SetWrite, history: SetHistory): number {
  const source = sourceOf(set)
  const conditions = conditionsOf(set, source)
  const differs = set.fields.map((field, index) => `${quote(field.name)} IS NOT ${source.values[index]!.sql}`)
  const { from, order } = fromSql(set)
  const cause = causeSql(set, source, differs, history)
  const patch = patchSql(set, source, differs)
  return store.run(
    `${source.sql} INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch)
     SELECT ?, ?, "id", 'update', ?, ${cause.sql}, ${patch.sql} ${from}${whereAll([`(${differs.join(' OR ')})`, ...conditions.sql])}${order}`,
    ...source.parameters,
    history.save,
    set.table.name,
    history.depth,
    ...cause.parameters,
    ...patch.parameters,
    ...source.values.flatMap((value) => value.parameters),
    ...conditions.parameters,
  ).changes
}

/** One statement for all. */
function updateById(store: Store, set: SetWrite): number {
  const { table, fields } = set
  const source = sourceOf(set)
  const conditions = conditionsOf(set, source)
  const differs = fields.map((field, index) => `${quote(field.name)} IS NOT ${source.values[index]!.sql}`)
  const values = source.values.flatMap((value) => value.parameters)
  return store.run(
    `${source.sql} UPDATE ${quote(table.name)} SET ${fields.map((field, index) => `${quote(field.name)} = ${source.values[index]!.sql}`).join(', ')}
     FROM ph_w${whereAll([`"id" = ${KEY}`, `(${differs.join(' OR ')})`, ...conditions.sql])}`,
    ...source.parameters,
    ...values,
    ...values,
    ...conditions.parameters,
  ).changes
}

/** One statement for each entry: SQLite changes its records as it comes by them, where for all entries at once it would gather them first (measured). */
function updateByEntry(store: Store, { table, fields, key, rest, entries }: SetWrite): number {
  const where = whereSql(table, rest)
  const differs = `(${fields.map((field) => `${quote(field.name)} IS NOT ?`).join(' OR ')})`
  const conditions = [differs, ...(where.sql === '' ? [] : [where.sql.slice(' WHERE '.length)])]
  const assignments = fields.map((field) => `${quote(field.name)} = ?`).join(', ')
  const sql = `UPDATE ${quote(table.name)} SET ${assignments}${whereAll(key === null ? conditions : [`${columnOf(key)} = ?`, '"id" IS NOT ?', ...conditions])}`
  const statement = store.writer(sql)
  let changed = 0
  for (const entry of entries) {
    const values = entry.values.map(toSql)
    const told = key === null ? [] : [toSql(entry.key), entry.not]
    changed += statement.run(...values, ...told, ...values, ...where.parameters).changes
  }
  return changed
}

interface Sql {
  sql: string
  parameters: unknown[]
}

/** The same text as history.ts makes: a test and a replace for each field that changes. */
function patchSql({ fields }: SetWrite, { values, json }: Source, differs: readonly string[]): Sql {
  const steps = fields.map((field, index) => {
    const path = `"path":"/${field.name}"`
    return `'{"op":"test",${path},"value":' || ${jsonSql(field, quote(field.name))} || '},{"op":"replace",${path},"value":' || ${json[index]!.sql} || '}'`
  })
  if (steps.length === 1) return { sql: `'[' || ${steps[0]!} || ']'`, parameters: [...json[0]!.parameters] }
  return {
    sql: `'[' || substr(${steps.map((step, index) => `CASE WHEN ${differs[index]!} THEN ',' || ${step} ELSE '' END`).join(' || ')}, 2) || ']'`,
    parameters: fields.flatMap((_, index) => [...values[index]!.parameters, ...json[index]!.parameters]),
  }
}

function causeSql({ fields }: SetWrite, { values }: Source, differs: readonly string[], { by }: SetHistory): Sql {
  if (fields.length === 1) return { sql: '?', parameters: [JSON.stringify({ [fields[0]!.name]: by(fields[0]!) })] }
  return {
    sql: `'{' || substr(${differs.map((differ) => `CASE WHEN ${differ} THEN ? ELSE '' END`).join(' || ')}, 2) || '}'`,
    parameters: fields.flatMap((field, index) => [
      ...values[index]!.parameters,
      `,${JSON.stringify(field.name)}:${JSON.stringify(by(field))}`,
    ]),
  }
}
