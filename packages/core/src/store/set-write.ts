import { quote } from '../model/ddl.js'
import type { Field } from '../model/types.js'
import type { Store } from './database.js'
import { toSql } from './records.js'
import { rangeOf, type SetRange } from './set-range.js'
import { scanOf } from './set-scan.js'
import {
  columnOf,
  conditionsOf,
  constantSource,
  fromSql,
  jsonSql,
  KEY,
  sourceOf,
  whereAll,
  type SetWrite,
  type Source,
  type Sql,
} from './set-source.js'
import { whereSql } from './where.js'

/**
 * The same fields of many records written by one statement, and their history by another, without reading the records: for where nothing
 * looks at the single one. What is as it should be already is left alone.
 */

/** What the history says of a set. */
export interface SetHistory {
  save: number
  depth: number
  /** Who set the field, as in the history's cause. */
  by: (field: Field) => string
}

/**
 * Writes the set, and its history where that is wanted.
 * @returns how many records changed
 * @throws Unfit where a record is what none may be; what was written has to be rolled back then
 */
export const writeSet = (store: Store, set: SetWrite, history: SetHistory | null): number =>
  store.work(() => writeAll(store, set, history))

function writeAll(store: Store, set: SetWrite, history: SetHistory | null): number {
  if (set.key !== 'id') return write(store, set, history && ofEntries(set), history)
  const range = rangeOf(set)
  return range
    ? store.answering(range.lookup, () => write(store, set, ofRange(set, range), history))
    : write(store, set, ofEntries(set), history)
}

/** How a statement comes by the records of a set, and by what they take. */
interface Access extends Source {
  from: string
  order: string
  /** In an update: what joins the table. */
  beside: string
  isMember: Sql
  /** Is membership told by `from` where records are read? */
  joined: boolean
}

const ofEntries = (set: SetWrite): Access => ({
  ...sourceOf(set),
  ...fromSql(set),
  beside: 'FROM ph_w',
  isMember: { sql: `"id" = ${KEY}`, parameters: [] },
  joined: true,
})

const ofRange = ({ table }: SetWrite, { source, isMember, order }: SetRange): Access => ({
  ...source,
  from: `FROM ${quote(table.name)}`,
  order,
  beside: '',
  isMember,
  joined: false,
})

/** @param access null where records are changed entry after entry, without history */
function write(store: Store, set: SetWrite, access: Access | null, history: SetHistory | null): number {
  const noted = history && access && writeSetHistory(store, set, access, history)
  if (noted === 0 && !set.never?.length) return 0
  const changed = set.key === 'id' && access ? updateById(store, set, access) : updateByKey(store, set)
  if (noted !== null && noted !== changed)
    throw new Error(`${changed} records of ${set.table.name} were written as a set, with ${noted} lines of history`)
  return changed
}

/** SQL that holds where a field of the record is to change. */
const differsSql = ({ fields }: SetWrite, { values }: Source): string[] =>
  fields.map((field, index) => `${quote(field.name)} IS NOT ${values[index]!.sql}`)

function writeSetHistory(store: Store, set: SetWrite, access: Access, history: SetHistory): number {
  const conditions = conditionsOf(set, access)
  const differs = differsSql(set, access)
  const cause = causeSql(set, access, differs, history)
  const patch = patchSql(set, access, differs)
  const where = [
    ...(access.joined ? [] : [access.isMember.sql]),
    ...(set.allChange ? [] : [`(${differs.join(' OR ')})`]),
    ...conditions.sql,
  ]
  return store.run(
    `${access.sql} INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch)
     SELECT ?, ?, "id", 'update', ?, ${cause.sql}, ${patch.sql} ${access.from}${whereAll(where)}${access.order}`,
    ...access.parameters,
    history.save,
    set.table.name,
    history.depth,
    ...cause.parameters,
    ...patch.parameters,
    ...(access.joined ? [] : access.isMember.parameters),
    ...(set.allChange ? [] : access.values.flatMap((value) => value.parameters)),
    ...conditions.parameters,
  ).changes
}

/** One statement for all. It comes by each record of the set, so that whether one is what none may be is asked on the way. */
function updateById(store: Store, set: SetWrite, access: Access): number {
  const { table, fields, never = [], allChange = false } = set
  const conditions = conditionsOf(set, access)
  const differs = allChange ? '1' : differsSql(set, access).join(' OR ')
  const changes = never.length > 0 ? `CASE WHEN ${never.join(' OR ')} THEN ph_unfit() ELSE ${differs} END` : `(${differs})`
  const values = access.values.flatMap((value) => value.parameters)
  return store.run(
    `${access.sql} UPDATE ${quote(table.name)} SET ${fields.map((field, index) => `${quote(field.name)} = ${access.values[index]!.sql}`).join(', ')}
     ${access.beside}${whereAll([access.isMember.sql, changes, ...conditions.sql])}`,
    ...access.parameters,
    ...values,
    ...access.isMember.parameters,
    ...(allChange ? [] : values),
    ...conditions.parameters,
  ).changes
}

/** Most keys that are reported in one statement. */
const KEYS = 512

/**
 * One statement for each entry, or for many that take the same values: SQLite changes its records as it comes by them, where with entries as rows of a
 * table it would gather them first (measured).
 */
function updateByKey(store: Store, set: SetWrite): number {
  const { table, fields, key, rest, entries } = set
  const where = whereSql(table, rest)
  const differs = `(${fields.map((field) => `${quote(field.name)} IS NOT ?`).join(' OR ')})`
  const conditions = [differs, ...(where.sql === '' ? [] : [where.sql.slice(' WHERE '.length)])]
  const assignments = fields.map((field) => `${quote(field.name)} = ?`).join(', ')
  const update = (told: readonly string[]) =>
    store.writer(`UPDATE ${quote(table.name)} SET ${assignments}${whereAll([...told, ...conditions])}`)
  const leavesOut = key !== null && entries.some(({ not }) => not !== null)
  // Beside other conditions SQLite might take an index of theirs, and go through all that they hold for.
  if (key !== null && !leavesOut && where.sql === '' && entries.length > 1 && constantSource(fields, entries)) {
    const values = entries[0]!.values.map(toSql)
    let changed = 0
    for (const { told, parameters } of toldAlike(store, set))
      changed += update([told]).run(...values, ...parameters, ...values).changes
    return changed
  }
  const statement = update([...(key === null ? [] : [`${columnOf(key)} = ?`]), ...(leavesOut ? ['"id" IS NOT ?'] : [])])
  let changed = 0
  for (const entry of entries) {
    const values = entry.values.map(toSql)
    const which = [...(key === null ? [] : [toSql(entry.key)]), ...(leavesOut ? [entry.not] : [])]
    changed += statement.run(...values, ...which, ...values, ...where.parameters).changes
  }
  return changed
}

/** Conditions, each for its own statement, by which records are shown that take the same whatever their key. */
function* toldAlike(store: Store, set: SetWrite): Generator<{ told: string; parameters: readonly unknown[] }> {
  const column = columnOf(set.key!)
  const scan = scanOf(store, set)
  // The sign keeps SQLite from the index.
  if (scan) return yield { told: `+${column} BETWEEN ? AND ?`, parameters: [scan.low, scan.high] }
  for (let at = 0; at < set.entries.length; at += KEYS) {
    const keys = set.entries.slice(at, at + KEYS).map((entry) => toSql(entry.key))
    // Up to the next power of two, so that there are few statements to keep.
    while ((keys.length & (keys.length - 1)) !== 0) keys.push(keys[0]!)
    yield { told: `${column} IN (${keys.map(() => '?').join(', ')})`, parameters: keys }
  }
}

/** The same text as history.ts makes: a test and a replace for each field that changes. */
function patchSql({ fields }: SetWrite, { values, json }: Source, differs: readonly string[]): Sql {
  const steps = fields.map((field, index) => {
    const path = `"path":"/${field.name}"`
    return {
      first: `{"op":"test",${path},"value":`,
      rest: `${jsonSql(field, quote(field.name))} || '},{"op":"replace",${path},"value":' || ${json[index]!.sql}`,
    }
  })
  const [only] = steps
  if (steps.length === 1) return { sql: `'[${only!.first}' || ${only!.rest} || '}]'`, parameters: json[0]!.parameters }
  return {
    sql: `'[' || substr(${steps.map(({ first, rest }, index) => `CASE WHEN ${differs[index]!} THEN ',${first}' || ${rest} || '}' ELSE '' END`).join(' || ')}, 2) || ']'`,
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
