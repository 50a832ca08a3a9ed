import { HookError } from '../errors.js'
import { quote } from '../model/ddl.js'
import type { Field, Table, Value } from '../model/types.js'
import { countChanges } from '../store/set-asks.js'
import type { SetEntry, SetWrite } from '../store/set-source.js'
import { writeSet } from '../store/set-write.js'
import { shapeOf } from '../store/shape.js'
import { Unfit } from '../store/unfit.js'
import type { Series } from './backfilling.js'
import type { SaveEnvironment } from './environment.js'
import { saysNoOfAll } from './only-says-no.js'
import { inOnePass, type SaveOutcome } from './pass.js'
import { BY_BACKFILL } from './program.js'
import {
  couldWake,
  doubtsAboutOthers,
  fitting,
  linksStand,
  otherListsFit,
  recordsWith,
  standAlone,
  tellsOfEach,
} from './quiet.js'
import type { Session } from './session.js'
import type { SaveOptions } from './types.js'
import { Units } from './units.js'

/** A batch of a backfill written as a set, where nothing looks at the single record. */

export interface RecordSet {
  table: Table
  /** Written; in the table's order. */
  fields: readonly Field[]
  /** A field of the record that what it takes depends on. */
  by: string | null
  /** Is what the records take known to differ from record to record, and from what any other has? */
  differ: boolean
  /** Is every record known to change? */
  allChange: boolean
  /** Values in the order of `fields`. @param place of the record among all, from 0 @throws HookError that refuses the record */
  take(by: Value, series: Series, place: number): readonly Value[]
  /** Once all have taken theirs: would they, in sequence, have taken the same? */
  isSure(): boolean
}

/** Thrown within the pass, so that everything is rolled back. */
class NotASet extends Error {}

/** @returns null where the records have to go through the stations one at a time; nothing is changed then */
export function saveAsSet(
  environment: SaveEnvironment,
  set: RecordSet | null,
  ids: readonly number[],
  options: SaveOptions,
): SaveOutcome | null {
  if (!set) return null
  try {
    const write = (session: Session) => {
      if (!writeRecords(session, set, ids)) throw new NotASet()
    }
    return inOnePass(environment, new Units([]), options, new Map(), write, ids.length).outcome
  } catch (error) {
    if (error instanceof NotASet || error instanceof Unfit) return null
    throw error
  }
}

function writeRecords(session: Session, of: RecordSet, ids: readonly number[]): boolean {
  const { table, fields } = of
  const { store, touches, options } = session
  if (tellsOfEach(session) || touches.concern(table.name) || fields.length === 0) return false
  if (!standAlone(table, fields) && !(fields.length === 1 && !isInSet(table, fields[0]!))) return false
  const hooks = couldWake(session, table, fields, false)
  // Values are known before hooks ran: a hook that runs may set others, and wake others by it.
  if (hooks.some((hook) => !hook.only || session.wakes(hook))) return false
  const values = valuesOf(session, of, ids)
  if (!values || !linksStand(session, fields, values)) return false
  const entries = ids.map((key, index): SetEntry => ({ key, not: null, values: values[index]! }))
  const { allChange } = of
  const set: SetWrite = { table, fields, key: 'id', rest: {}, entries, allChange, never: doubtsAboutOthers(table, fields) }
  if (!of.differ && fields.some(({ unique }) => unique) && !differ(session, set)) return false
  if (!otherListsFit(session, table, () => recordsWith(table, ids), fields)) return false
  if (!hooks.every((hook) => saysNoOfAll(session, hook, table, fields, ids, values))) return false
  const counts = fields.length > 1 ? countChanges(store, set) : null
  const by = session.program.hookName(BY_BACKFILL)
  const { saveId: save } = session
  const written = writeSet(store, set, options.history ? { save, depth: 0, by: () => by } : null)
  session.spending.use('rowsWritten', written)
  session.wrote(table.name, [])
  const shape = shapeOf(table)
  const changed = fields.map(({ name }, index) => [shape.index.get(name)!, counts ? counts[index]! : written] as const)
  options.backfill?.wroteSet(shape, written, new Map(changed.filter(([, count]) => count > 0)))
  return true
}

const isInSet = ({ uniqueSets }: Table, { name }: Field): boolean => uniqueSets.some((names) => names.includes(name))

/** By record, what it takes; null where one of them would be refused. */
function valuesOf(session: Session, { table, fields, by, take, isSure }: RecordSet, ids: readonly number[]): Value[][] | null {
  const kinds = by === null ? null : kindsOf(session, table, by, ids)
  const values: Value[][] = []
  let given: readonly Value[] | null = null
  let kept: Value[] | null = null
  try {
    for (const [place, id] of ids.entries()) {
      if (kinds && !kinds.has(id)) return null
      const taken = take(kinds?.get(id) ?? null, session.series, place)
      if (taken !== given) kept = fitting(session, table, fields, (given = taken))
      if (!kept) return null
      values.push(kept)
    }
  } catch (error) {
    if (HookError.is(error)) return null
    throw error
  }
  return isSure() ? values : null
}

function kindsOf({ store }: Session, table: Table, by: string, ids: readonly number[]): Map<number, Value> {
  const { type } = table.fields.find(({ name }) => name === by)!
  const rows = store.rows(
    `SELECT "id", ${quote(by)} FROM ${quote(table.name)} WHERE "id" IN (SELECT value FROM json_each(?))`,
    JSON.stringify(ids),
  ) as [number, Value][]
  return new Map(rows.map(([id, value]) => [id, type === 'boolean' && value !== null ? value === 1 : value]))
}

/** Do the values of the one unique field differ, and has no record one of them? */
function differ({ store }: Session, { table, fields, entries }: SetWrite): boolean {
  const values = entries.flatMap(({ values: [value] }) => (value === null ? [] : [value!]))
  if (new Set(values).size < values.length) return false
  const column = quote(fields[0]!.name)
  // Numbers may be written in several ways: they are looked at one at a time.
  if (fields[0]!.type === 'number') return values.length === 0
  const sql = `SELECT EXISTS (SELECT 1 FROM ${quote(table.name)} WHERE ${column} IN (SELECT value FROM json_each(?)))`
  return store.one(sql, JSON.stringify(values)) === 0
}
