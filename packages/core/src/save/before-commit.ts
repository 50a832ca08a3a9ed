import { tablesInOrder } from '../model/order.js'
import { readByIds } from '../store/records.js'
import { shapeOf } from '../store/shape.js'
import { runHook } from './run-hooks.js'
import { NO_SNAPSHOT, type SaveRow } from './row.js'
import type { Session } from './session.js'
import type { Touched } from './touches.js'

/** The last station: every touched record once, on the final state of the transaction; hooks may still refuse. */
export function beforeCommit(session: Session): void {
  session.stage.depth = 0
  if (session.touches.records.size === 0) return
  for (const table of tablesInOrder(session.project.tables)) {
    const touched = session.touches.records.get(table.name)
    const hooks = session.program.at(table.name, 'before-commit')
    if (!touched || hooks.length === 0) continue
    const all = [...touched]
    session.stage.atTable(table.name)
    for (let at = 0; at < all.length; at += session.project.batchSize) {
      const batch = all.slice(at, at + session.project.batchSize)
      const shape = shapeOf(table)
      const current = readByIds(
        session.store,
        shape,
        batch.map(([id]) => id),
      )
      const byChild = new Set<SaveRow>()
      const rows: SaveRow[] = []
      for (const [id, touch] of batch) {
        const now = current.get(id) ?? null
        const was = touch.written ? touch.was : now
        if (now === null && was === null) continue
        const row = finalRow(shape, id, was, now, touch)
        rows.push(row)
        if (touch.byChild) byChild.add(row)
      }
      for (const hook of hooks) runHook(session, hook, rows, { byChild: hook.touchedBy.length > 0 ? byChild : undefined })
    }
  }
}

function finalRow(shape: SaveRow['shape'], id: number, was: SaveRow['was'], now: SaveRow['now'], touch: Touched): SaveRow {
  if (now) Object.freeze(now)
  return {
    shape,
    id,
    event: was === null ? 'create' : now === null ? 'delete' : 'update',
    was,
    now,
    snapshot: NO_SNAPSHOT,
    by: shape.nobody(),
    asked: null,
    askedAt: null,
    copiedFrom: null,
    row: touch.row,
    origin: touch.origin,
    failed: false,
    refused: false,
    view: null,
  }
}
