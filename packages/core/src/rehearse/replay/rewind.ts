import { HookError } from '../../errors.js'
import type { Project, RecordValues, Table, Value } from '../../model/types.js'
import type { Given } from '../../save/given.js'
import { readSave } from '../../save/history.js'
import type { Store } from '../../store/database.js'
import { deleteRecords, insertRecords, readByIds } from '../../store/records.js'
import { KEEP_NEXT } from '../../store/sequences.js'
import { shapeOf } from '../../store/shape.js'

/**
 * Takes records back to how they were before a save, and on to how they were after it, by the patches of its history. For a
 * copy of the records, within a transaction that is rolled back.
 */

type Entry = ReturnType<typeof readSave>[number]

/** How a record was before an entry and after it, in the fields that it changed; null where there was none. */
interface Step {
  from: Record<string, Value> | null
  to: Record<string, Value> | null
}

/** @throws HookError rehearse/cannot-rewind where the records are not as the save left them */
export function undoSave(store: Store, project: Project, save: number): void {
  move(store, project, save, readSave(store, save).reverse(), ({ from, to }) => ({ from: to, to: from }))
}

/** @throws HookError rehearse/cannot-rewind where the records are not as the save found them */
export function redoSave(store: Store, project: Project, save: number): void {
  move(store, project, save, readSave(store, save), (step) => step)
}

/** The series go on from where they was before the save. */
export function rewindNumbers(store: Store, { next }: Given): void {
  store.run('DELETE FROM ph_sequence')
  for (const [name, number] of Object.entries(next)) store.run(KEEP_NEXT, name, number)
}

function stepOf({ event, changes }: Entry): Step {
  const side = (of: 'from' | 'to') => Object.fromEntries(changes.map((change) => [change.field, change[of] as Value]))
  return { from: event === 'create' ? null : side('from'), to: event === 'delete' ? null : side('to') }
}

/** Records go out and come in again as wholes, so no unique value conflicts with another. */
function move(store: Store, project: Project, save: number, entries: readonly Entry[], turned: (step: Step) => Step): void {
  const byTable = new Map<string, Entry[]>()
  for (const entry of entries) byTable.set(entry.table, [...(byTable.get(entry.table) ?? []), entry])
  const tables = [...byTable].map(([name, ofTable]) => {
    const table = project.tables.get(name)
    const [model] = ofTable.filter(({ event }) => event === 'model')
    if (model) throw changed(save, name, model.record, 'the table was changed by it')
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
  const { from, to } = turned(stepOf(entry))
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
  if (record !== null) return Object.assign(shape.copy(record), to)
  const missing = table.fields.find((field) => field.required && (to[field.name] ?? null) === null)
  if (missing) throw changed(save, table.name, id, `it had no ${missing.name} then, which is required now`)
  return Object.assign(shape.empty(id), to)
}

const changed = (save: number, table: string, id: number, detail: string): HookError =>
  new HookError('rehearse/cannot-rewind', { save, table, id, detail })
