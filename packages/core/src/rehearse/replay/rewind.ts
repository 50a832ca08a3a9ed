import { HookError } from '../../errors.js'
import type { Project, RecordValues, Table, Value } from '../../model/types.js'
import type { Given } from '../../save/given.js'
import type { Store } from '../../store/database.js'
import { deleteRecords, insertRecords, readByIds } from '../../store/records.js'
import { KEEP_NEXT } from '../../store/sequences.js'
import { shapeOf } from '../../store/shape.js'

/**
 * Takes records back to how they stood before a save, and on to how they stood after it, by the patches of its history. For a
 * copy of the records, within a transaction that is rolled back.
 */

interface Entry {
  tbl: string
  record: number
  patch: { op: 'test' | 'replace'; path: string; value: unknown }[]
}

/** How a record was before an entry and after it; of an update only the fields that it changed. */
interface Step {
  /** Null: the whole record came or went. */
  fields: string[] | null
  from: Record<string, Value> | null
  to: Record<string, Value> | null
}

/** @throws HookError rehearse/cannot-rewind where the records are not as the save left them */
export function undoSave(store: Store, project: Project, save: number): void {
  move(store, project, save, entriesOf(store, save).reverse(), ({ fields, from, to }) => ({ fields, from: to, to: from }))
}

/** @throws HookError rehearse/cannot-rewind where the records are not as the save found them */
export function redoSave(store: Store, project: Project, save: number): void {
  move(store, project, save, entriesOf(store, save), (step) => step)
}

/** The series go on from where they stood before the save. */
export function rewindNumbers(store: Store, { next }: Given): void {
  store.run('DELETE FROM ph_sequence')
  for (const [name, number] of Object.entries(next)) store.run(KEEP_NEXT, name, number)
}

function entriesOf(store: Store, save: number): Entry[] {
  const raw = store.rows('SELECT tbl, record, patch FROM ph_history WHERE save = ? ORDER BY id', save) as [
    string,
    number,
    string,
  ][]
  return raw.map(([tbl, record, patch]) => ({ tbl, record, patch: JSON.parse(patch) as Entry['patch'] }))
}

function stepOf({ patch }: Entry): Step {
  const whole = patch.find(({ path }) => path === '')
  const test = patch.find(({ op, path }) => op === 'test' && path === '')
  if (whole) {
    const to = patch.find(({ op }) => op === 'replace')!.value
    return { fields: null, from: (test?.value ?? null) as Step['from'], to: to as Step['to'] }
  }
  const side = (wanted: 'test' | 'replace') =>
    Object.fromEntries(patch.filter(({ op }) => op === wanted).map(({ path, value }) => [path.slice(1), value as Value]))
  return { fields: Object.keys(side('replace')), from: side('test'), to: side('replace') }
}

/** Records go out and come in again as wholes, so that no unique value stands in the way of another. */
function move(store: Store, project: Project, save: number, entries: readonly Entry[], turned: (step: Step) => Step): void {
  const byTable = new Map<string, Entry[]>()
  for (const entry of entries) byTable.set(entry.tbl, [...(byTable.get(entry.tbl) ?? []), entry])
  const tables = [...byTable].map(([name, ofTable]) => {
    const table = project.tables.get(name)
    if (!table) throw changed(save, name, ofTable[0]!.record, 'the table is gone')
    const ids = [...new Set(ofTable.map(({ record }) => record))]
    const records = new Map<number, RecordValues | null>(readByIds(store, shapeOf(table), ids))
    for (const entry of ofTable) records.set(entry.record, applied(table, save, entry, records.get(entry.record) ?? null, turned))
    return { table, ids, records }
  })
  for (const { table, ids } of tables) deleteRecords(store, table, ids)
  for (const { table, records } of tables)
    insertRecords(
      store,
      shapeOf(table),
      [...records.values()].filter((record) => record !== null),
    )
}

function applied(
  table: Table,
  save: number,
  entry: Entry,
  record: RecordValues | null,
  turned: (step: Step) => Step,
): RecordValues | null {
  const { record: id } = entry
  const { fields, from, to } = turned(stepOf(entry))
  const known = new Set(['id', ...table.fields.map(({ name }) => name)])
  for (const name of [...Object.keys(from ?? {}), ...Object.keys(to ?? {})])
    if (!known.has(name)) throw changed(save, table.name, id, `it had a field ${name} then`)
  if (from === null ? record !== null : record === null)
    throw changed(save, table.name, id, record ? 'it is there' : 'it is not there')
  for (const [name, value] of Object.entries(from ?? {}))
    if (record![name] !== value)
      throw changed(save, table.name, id, `${name} is ${JSON.stringify(record![name])}, not ${JSON.stringify(value)}`)
  if (to === null) return null
  const shape = shapeOf(table)
  if (fields !== null) return Object.assign(shape.copy(record!), to)
  const missing = table.fields.find((field) => field.required && (to[field.name] ?? null) === null)
  if (missing) throw changed(save, table.name, id, `it had no ${missing.name} then, which is required now`)
  return Object.assign(shape.empty(id), to)
}

const changed = (save: number, table: string, id: number, detail: string): HookError =>
  new HookError('rehearse/cannot-rewind', { save, table, id, detail })
