import type { Value } from '../model/types.js'
import { deleteRecords, insertRecords, retireIds, updateRecords } from '../store/records.js'
import type { Shape } from '../store/shape.js'
import { writeHistory } from './history.js'
import type { SaveRow } from './row.js'
import type { Session } from './session.js'

/** The write station: rows whose values did not change are left alone; the rest is written set by set, with history. */

/** @returns the rows that were written */
export function writeRows(session: Session, rows: readonly SaveRow[]): SaveRow[] {
  const [first] = rows
  if (!first) return []
  const { shape } = first
  const looked = session.program.of(shape.table.name, 'after-save').length > 0
  const created: SaveRow[] = []
  const updated: { record: NonNullable<SaveRow['now']>; fields: readonly number[]; row: SaveRow }[] = []
  const deleted: SaveRow[] = []
  for (const row of rows) {
    if (row.event === 'delete') deleted.push(row)
    else if (row.was === null) created.push(row)
    else {
      const fields = shape.differing(row.was, row.now!)
      if (fields.length > 0) updated.push({ record: row.now!, fields, row })
    }
    // From here on hooks may only look; where none will, freezing would be for nothing.
    if (row.now && looked) Object.freeze(row.now)
  }
  const count = created.length + updated.length + deleted.length
  if (count === 0) return []
  session.spending.use('rowsWritten', count)
  session.wrote(shape.table.name, deleted)
  if (deleted.length > 0) {
    const ids = deleted.map((row) => row.id)
    deleteRecords(session.store, shape.table, ids)
    retireIds(session.store, shape.table.name, ids)
  }
  if (updated.length > 0 && tradesUnique(shape, updated)) {
    deleteRecords(
      session.store,
      shape.table,
      updated.map(({ row }) => row.id),
    )
    insertRecords(
      session.store,
      shape,
      updated.map(({ record }) => record),
    )
  } else updateRecords(session.store, shape, updated)
  insertRecords(
    session.store,
    shape,
    created.map((row) => row.now!),
  )
  const written = deleted.concat(
    updated.map(({ row }) => row),
    created,
  )
  for (const row of deleted) session.touches.noteRemoved(row)
  const { backfill } = session.options
  if (backfill) {
    const { depth } = session.stage
    for (const { row, fields } of updated) backfill.wrote(shape, row, fields, depth)
    for (const row of [...created, ...deleted]) backfill.wrote(shape, row, [], depth)
  }
  if (session.options.history) writeHistory(session, shape, written)
  if (session.touches.concern(shape.table.name)) for (const row of written) session.touches.note(row)
  return written
}

/** Do records of the batch take over unique values from each other? Then one update after the other would collide. */
function tradesUnique(shape: Shape, updated: readonly { row: SaveRow }[]): boolean {
  const sets = [...shape.fields.filter((field) => field.unique).map((field) => [field.name]), ...shape.table.uniqueSets]
  const key = (names: readonly string[], record: Record<string, Value>) => JSON.stringify(names.map((name) => record[name]))
  return sets.some((names) => {
    // A retained value is not passed on.
    const moved = updated.filter(({ row }) => names.some((name) => row.was![name] !== row.now![name]))
    if (moved.length < 2) return false
    const before = new Set(moved.map(({ row }) => key(names, row.was!)))
    return moved.some(({ row }) => before.has(key(names, row.now!)))
  })
}
