import type { BackfillInfo } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import type { SaveEnvironment } from '../save/environment.js'
import type { SaveOutcome } from '../save/save.js'
import type { Store } from '../store/database.js'
import { advance, nextIds, nextRecords, readBackfill, setState } from './backfill-store.js'
import { saveBatch } from './batch.js'
import { undoBatch, type Touched } from './undo.js'
import { checkWish } from './wish.js'

/**
 * A running backfill does its next batch and moves its cursor, in one transaction: whatever ends the process between two batches, it goes
 * on after the last one that was kept.
 */

export interface Step {
  backfill: BackfillInfo
  /** What hooks did in the batch; null where there was nothing to save. */
  outcome: SaveOutcome | null
}

/** @param environmentFor what runs on saves of the user @param rows of the batch, at most */
export function stepBackfill(store: Store, environmentFor: (user: string) => SaveEnvironment, id: number, rows: number): Step {
  const before = readBackfill(store, id)
  if (before.state !== 'running') return { backfill: before, outcome: null }
  let outcome: SaveOutcome | null = null
  try {
    store.transaction(() => {
      outcome = batchOf(store, environmentFor(before.user), before, rows)
      return { value: undefined, keep: true }
    })
  } catch (error) {
    // A full disk or a lock may be gone another time; what hooks or tables are to blame for has to be mended first.
    if (!HookError.is(error) || error.code.startsWith('store/')) throw error
    setState(store, id, 'failed', error.report)
  }
  return { backfill: readBackfill(store, id), outcome }
}

function batchOf(store: Store, environment: SaveEnvironment, backfill: BackfillInfo, rows: number): SaveOutcome | null {
  const { id, done, figures, user, wish, undoes } = backfill
  const records = undoes === null ? nextIds(store, backfill, rows) : nextRecords(store, backfill, rows)
  if (records.length === 0) {
    setState(store, id, 'done')
    return null
  }
  const batch =
    undoes === null
      ? saveBatch(environment, checkWish(environment, wish!, user), wish!, records as number[], figures, { user, job: id })
      : undoBatch(environment, records as Touched[], figures, { user, job: id, undoes })
  advance(store, id, done + records.length, figures, batch.left)
  return batch.outcome
}
