import { quote } from '../model/ddl.js'
import type { Field } from '../model/types.js'
import type { Store } from './database.js'
import { toSql } from './records.js'
import { columnOf, conditionsOf, fromSql, jsonSql, KEY, sourceOf, whereAll, type SetWrite, type Source } from './set-source.js'
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
export function writeSet(store: Store, set: SetWrite, history: SetHistory | null): number {
  const noted = history && writeSetHistory(store, set, history)
  if (noted === 0 && !set.never?.length) return 0
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

/** One statement for all. It comes by each record of the set, so that whether one is what none may be is asked on the way. */
function updateById(store: Store, set: SetWrite): number {
  const { table, fields, never = [] } = set
  const source = sourceOf(set)
  const conditions = conditionsOf(set, source)
  const differs = fields.map((field, index) => `${quote(field.name)} IS NOT ${source.values[index]!.sql}`).join(' OR ')
  const changes = never.length > 0 ? `CASE WHEN ${never.join(' OR ')} THEN ph_unfit() ELSE ${differs} END` : `(${differs})`
  const values = source.values.flatMap((value) => value.parameters)
  return store.run(
    `${source.sql} UPDATE ${quote(table.name)} SET ${fields.map((field, index) => `${quote(field.name)} = ${source.values[index]!.sql}`).join(', ')}
     FROM ph_w${whereAll([`"id" = ${KEY}`, changes, ...conditions.sql])}`,
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
  const leavesOut = key !== null && entries.some(({ not }) => not !== null)
  const told = [...(key === null ? [] : [`${columnOf(key)} = ?`]), ...(leavesOut ? ['"id" IS NOT ?'] : [])]
  const sql = `UPDATE ${quote(table.name)} SET ${assignments}${whereAll([...told, ...conditions])}`
  const statement = store.writer(sql)
  let changed = 0
  for (const entry of entries) {
    const values = entry.values.map(toSql)
    const which = [...(key === null ? [] : [toSql(entry.key)]), ...(leavesOut ? [entry.not] : [])]
    changed += statement.run(...values, ...which, ...values, ...where.parameters).changes
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
