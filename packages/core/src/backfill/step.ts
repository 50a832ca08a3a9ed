import type { BackfillInfo } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import type { SaveEnvironment } from '../save/environment.js'
import type { SaveOutcome } from '../save/save.js'
import type { Store } from '../store/database.js'
import { advance, nextIds, nextRecords, nextRows, readBackfill, setState, type FileRow } from './backfill-store.js'
import { saveBatch, type Batch } from './batch.js'
import { saveFileRows } from './file-rows.js'
import { undoBatch, type Touched } from './undo.js'
import { isUntouched } from './untouched.js'
import { checkWish } from './wish.js'

/**
 * A running backfill does its next batch and moves its cursor, in one transaction: whatever ends the process between two batches, it goes
 * on after the last one that was kept.
 */

export interface Step {
  backfill: BackfillInfo
  /** The work of hooks in the batch; null where it had no changes to save. */
  outcome: SaveOutcome | null
  /** Nothing but its own records was written since it chose them. */
  untouched: boolean
}

/** @param environmentFor what runs on saves of the user @param rows of the batch, at most */
export function stepBackfill(store: Store, environmentFor: (user: string) => SaveEnvironment, id: number, rows: number): Step {
  const before = readBackfill(store, id)
  if (before.state !== 'running') return { backfill: before, outcome: null, untouched: false }
  let batch: Pick<Batch, 'outcome' | 'alone'> | null = null
  const untouched = isUntouched(store, id)
  const work = () =>
    store.transaction(() => {
      batch = batchOf(store, environmentFor(before.user), before, rows, untouched)
      return { value: undefined, keep: true }
    })
  try {
    // Where nothing leaves the application, a batch that is gone with its cursor is done again.
    if (before.done < before.total && !before.wish?.withMessages && !before.wish?.rows) store.lazily(work)
    else work()
  } catch (error) {
    // A full disk or a lock may be gone another time; what hooks or tables are to blame for has to be fixed first.
    if (!HookError.is(error) || error.code.startsWith('store/')) throw error
    setState(store, id, 'failed', error.report)
  }
  const { outcome, alone } = batch ?? { outcome: null, alone: false }
  return { backfill: readBackfill(store, id), outcome, untouched: untouched && alone }
}

function batchOf(
  store: Store,
  environment: SaveEnvironment,
  backfill: BackfillInfo,
  rows: number,
  untouched: boolean,
): Pick<Batch, 'outcome' | 'alone'> | null {
  const { id, done, figures, user, wish, undoes } = backfill
  const records = wish?.rows
    ? nextRows(store, backfill, rows)
    : undoes === null
      ? nextIds(store, backfill, rows)
      : nextRecords(store, backfill, rows)
  if (records.length === 0) {
    setState(store, id, 'done')
    return null
  }
  const batch = wish?.rows
    ? saveFileRows(environment, wish, records as FileRow[], figures, { user, job: id })
    : undoes === null
      ? saveBatch(environment, checkWish(environment, wish!, user), wish!, records as number[], figures, {
          user,
          job: id,
          untouched,
        })
      : undoBatch(environment, records as Touched[], figures, { user, job: id, undoes })
  advance(store, id, done + records.length, figures, batch.left)
  return batch
}
