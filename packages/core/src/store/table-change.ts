import type { Step } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import { indexSql, quote, tableSql } from '../model/ddl.js'
import { convert } from '../model/convert.js'
import type { Field, RecordValues, Table, Value } from '../model/types.js'
import { boundsProblem } from '../model/values.js'
import type { Store } from './database.js'
import { existing } from './records.js'
import { shapeOf, type Shape } from './shape.js'

/**
 * Changes of tables that hold records. A change is planned first: every step says how many records lose or break a value,
 * and which. It is applied by rebuilding the table and moving the records over, in one transaction.
 */

export type { Step } from '@patient-hook/contract'

export interface TableChange {
  before: Table | null
  after: Table | null
  /** Old field name to new. */
  renames: Readonly<Record<string, string>>
  /** By new field name: the value of records that have, or are left with, none. */
  fills: Readonly<Record<string, Value>>
}

const EXAMPLES = 5
const words = (count: number) => (count === 1 ? '1 record' : `${count} records`)

class Tally {
  count = 0
  readonly ids: number[] = []
  add(id: number): void {
    this.count++
    if (this.ids.length < EXAMPLES) this.ids.push(id)
  }
}

/** What each field of the new table is filled from. */
function sources({ before, after, renames }: TableChange): Map<Field, Field | null> {
  const back = new Map(Object.entries(renames).map(([old, now]) => [now, old]))
  const old = new Map(before!.fields.map((field) => [field.name, field]))
  return new Map(after!.fields.map((field) => [field, old.get(back.get(field.name) ?? field.name) ?? null]))
}

/** One record of the new table from one of the old. `null` among the lost names is a value that could not be converted. */
function moved(
  record: RecordValues,
  from: ReadonlyMap<Field, Field | null>,
  change: TableChange,
  lost?: (field: Field) => void,
): RecordValues {
  const next: RecordValues = { id: record.id }
  for (const [field, source] of from) {
    const old = source ? record[source.name]! : null
    const value = source ? convert(old, field) : null
    if (value === undefined || (old !== null && value !== null && isShortened(old, value))) lost?.(field)
    next[field.name] = value ?? change.fills[field.name] ?? null
  }
  return next
}

/** A time of day that is cut off is lost, although the date stays. */
const isShortened = (old: Value, value: Value): boolean =>
  typeof old === 'string' && typeof value === 'string' && value.length < old.length

function* recordsOf(store: Store, shape: Shape): Generator<RecordValues> {
  // Its own statement: the cached one cannot be used for anything else while it is being stepped through.
  const statement = store.db.prepare(`SELECT ${shape.columns} FROM ${quote(shape.table.name)} ORDER BY "id"`).raw(true)
  for (const raw of statement.iterate()) yield shape.fromRaw(raw as unknown[])
}

const typeWord = (field: Field): string =>
  field.link
    ? `link to ${field.link.table}`
    : field.enum
      ? 'enum'
      : (field.format ?? { string: 'text', integer: 'integer', number: 'number', boolean: 'yes/no' }[field.type])

/** @returns every step, in the order of the fields; empty when there are no changes */
export function planChange(store: Store, change: TableChange): Step[] {
  const { before, after } = change
  const steps: Step[] = []
  const say = (field: string | null, effect: Step['effect'], text: string, tally: Tally | null = null, wantsFill = false) =>
    steps.push({
      table: (after ?? before)!.name,
      field,
      text,
      effect,
      records: tally?.count ?? 0,
      examples: tally?.ids ?? [],
      wantsFill,
    })
  if (!after) {
    const tally = new Tally()
    for (const { id } of recordsOf(store, shapeOf(before!))) tally.add(id)
    say(
      null,
      tally.count > 0 ? 'loses' : 'safe',
      `The table ${before!.name} goes${tally.count > 0 ? `, with ${words(tally.count)}` : '; it is empty'}.`,
      tally,
    )
    return steps
  }
  if (!before) {
    say(null, 'safe', `The table ${after.name} is made, with ${after.fields.length} fields.`)
    return steps
  }
  const from = sources(change)
  const kept = new Set([...from.values()].map((field) => field?.name))
  const lost = new Map<Field, Tally>()
  const empty = new Map<Field, Tally>()
  const outside = new Map<Field, Tally>()
  const gone = new Map(before.fields.filter((field) => !kept.has(field.name)).map((field) => [field, new Tally()]))
  const values = new Map<string, Map<string, number[]>>()
  const linked = new Map<Field, Map<number, number[]>>()
  const sets = [...after.fields.filter((field) => field.unique).map((field) => [field.name]), ...after.uniqueSets]
  const tally = (of: Map<Field, Tally>, field: Field): Tally => {
    let count = of.get(field)
    if (!count) of.set(field, (count = new Tally()))
    return count
  }
  for (const record of recordsOf(store, shapeOf(before))) {
    for (const [field, count] of gone) if (record[field.name] !== null) count.add(record.id)
    const next = moved(record, from, change, (field) => tally(lost, field).add(record.id))
    for (const field of after.fields) {
      const value = next[field.name]!
      if (value === null) {
        if (field.required) tally(empty, field).add(record.id)
        continue
      }
      if (boundsProblem(after.name, field, value) !== null) tally(outside, field).add(record.id)
      if (field.link && (from.get(field)?.link?.table !== field.link.table || change.fills[field.name] !== undefined)) {
        const ofField = linked.get(field) ?? new Map<number, number[]>()
        linked.set(field, ofField)
        ofField.set(value as number, [...(ofField.get(value as number) ?? []), record.id])
      }
    }
    for (const set of sets) {
      const key = set.map((name): Value => next[name] ?? null)
      if (key.includes(null)) continue
      const ofSet = values.get(set.join()) ?? new Map<string, number[]>()
      values.set(set.join(), ofSet)
      ofSet.set(JSON.stringify(key), [...(ofSet.get(JSON.stringify(key)) ?? []), record.id])
    }
  }

  for (const [field, count] of gone)
    say(
      field.name,
      count.count > 0 ? 'loses' : 'safe',
      `${field.name} goes${count.count > 0 ? `, with the values of ${words(count.count)}` : '; no record has a value in it'}.`,
      count,
    )
  for (const [field, source] of from) {
    if (!source) say(field.name, 'safe', `${field.name} is new: ${typeWord(field)}.`)
    else if (source.name !== field.name)
      say(field.name, 'safe', `${source.name} is named ${field.name} from now on, in the hooks and fixtures too.`)
    if (source && typeWord(source) !== typeWord(field))
      say(field.name, 'safe', `${field.name}: ${typeWord(source)} becomes ${typeWord(field)}.`)
    const missing = lost.get(field)
    if (missing) {
      const why = field.enum ? 'hold a value that is no choice any more' : `hold a value that cannot be ${typeWord(field)}`
      say(
        field.name,
        'loses',
        `${field.name}: ${words(missing.count)} ${missing.count === 1 ? why.replace('hold', 'holds') : why}; it goes.`,
        missing,
        true,
      )
    }
    const none = empty.get(field)
    if (none)
      say(
        field.name,
        'blocked',
        `${field.name} is required, but ${words(none.count)} ${none.count === 1 ? 'has' : 'have'} no value in it: give the value that they get.`,
        none,
        true,
      )
    const out = outside.get(field)
    if (out)
      say(
        field.name,
        'breaks',
        `${field.name}: ${words(out.count)} ${out.count === 1 ? 'is' : 'are'} outside of the bounds; they stay, and are refused when they are saved next.`,
        out,
      )
    const links = linked.get(field)
    if (links) {
      const there = existing(store, field.link!.table, [...links.keys()])
      const broken = new Tally()
      for (const [id, ids] of links) if (!there.has(id)) ids.forEach((each) => broken.add(each))
      if (broken.count > 0)
        say(
          field.name,
          'blocked',
          `${field.name}: ${words(broken.count)} would link to records that ${field.link!.table} does not have: fix them first.`,
          broken,
        )
    }
  }
  for (const set of sets) {
    const twice = new Tally()
    for (const ids of values.get(set.join())?.values() ?? []) if (ids.length > 1) ids.forEach((id) => twice.add(id))
    if (twice.count > 0)
      say(
        set[0]!,
        'blocked',
        `${set.join(' and ')} must be unique, but ${words(twice.count)} share a value: change them first.`,
        twice,
      )
  }
  if (steps.length === 0 && JSON.stringify(before) !== JSON.stringify(after))
    say(null, 'safe', 'Labels, help, choices or bounds change; no record does.')
  return steps
}

/**
 * Moves the records. Foreign keys must be off on the connection: SQLite would take the old table's end for the end of its
 * records. @param tell is reported about each record as it was and as it is @throws HookError when a record does not fit; the caller's transaction is then rolled back
 */
export function applyChange(
  store: Store,
  change: TableChange,
  tell: (before: RecordValues, after: RecordValues) => void = () => {},
): void {
  const { before, after } = change
  store.forget()
  if (!after) {
    store.db.exec(`DROP TABLE ${quote(before!.name)}`)
    return
  }
  if (!before) {
    store.db.exec(tableSql(after))
    for (const sql of indexSql(after)) store.db.exec(sql)
    return
  }
  if (
    sameSql(before, after) &&
    Object.keys(change.renames).length === 0 &&
    Object.keys(change.fills).length === 0 &&
    !narrows(before, after)
  )
    return
  const shape = shapeOf(after)
  const name = `ph_new_${after.name}`
  store.db.exec(tableSql({ ...after, name }))
  const places = ['id', ...after.fields.map((field) => field.name)].map(() => '?').join(', ')
  const insert = store.db.prepare(`INSERT INTO ${quote(name)} (${shape.columns}) VALUES (${places})`)
  const from = sources(change)
  // Read whole before writing: the connection cannot write while a statement is being stepped through.
  for (const record of [...recordsOf(store, shapeOf(before))]) {
    const next = Object.assign(shape.empty(record.id), moved(record, from, change))
    tell(record, next)
    try {
      shape.insert(insert, next)
    } catch (error) {
      const failed = store.toHookError(error)
      throw failed instanceof HookError ? new HookError({ ...failed.report, table: after.name, id: record.id }) : failed
    }
  }
  store.db.exec(`DROP TABLE ${quote(before.name)}`)
  store.db.exec(`ALTER TABLE ${quote(name)} RENAME TO ${quote(after.name)}`)
  for (const sql of indexSql(after)) store.db.exec(sql)
  store.forget()
}

const sameSql = (a: Table, b: Table): boolean => tableSql(a) === tableSql(b) && indexSql(a).join() === indexSql(b).join()

/** Can a value of the old table be one that the new does not take, although the columns are the same? */
const narrows = (before: Table, after: Table): boolean =>
  after.fields.some((field) => {
    const old = before.fields.find((each) => each.name === field.name)
    return JSON.stringify(field.enum) !== JSON.stringify(old?.enum) || field.format !== old?.format
  })
