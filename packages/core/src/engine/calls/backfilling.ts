import type { BackfillInfo, BackfillPlan, BackfillWish } from '@patient-hook/contract'
import * as kept from '../../backfill/backfill-store.js'
import { planBackfill as plan } from '../../backfill/plan.js'
import { stepBackfill as step } from '../../backfill/step.js'
import { noteUntouched } from '../../backfill/untouched.js'
import { checkWish } from '../../backfill/wish.js'
import { HookError, type ErrorReport } from '../../errors.js'
import { tableNamed } from '../../model/table-named.js'
import type { SaveEnvironment } from '../../save/environment.js'
import type { Store } from '../../store/database.js'
import type { LiveCode } from '../live-code.js'
import type { OpenProject } from '../open-project.js'
import { keepFiles } from './project.js'

/** Backfills: planned on a copy of the records, run batch by batch on the live ones, with what runs on saves of the user. */

const environmentOf = (code: LiveCode, store: Store, user: string): SaveEnvironment => {
  const { project, program } = code.for(user)
  return { project, program, store, switches: code.switches }
}

/** On a copy of the records. Tells `progress` on the way. @param sample only the first so many records; null: all */
export function planBackfill(open: OpenProject, wish: BackfillWish, user: string, sample: number | null): BackfillPlan {
  const code = open.codeOnCopy()
  const store = open.records(open.runtimes.saved.project)
  return plan(environmentOf(code, store, user), wish, user, sample, (done, total) => open.tell('progress', { done, total }))
}

/** @throws HookError backfill/bad */
export function beginBackfill(open: OpenProject, wish: BackfillWish, user: string, token: string): BackfillInfo {
  const table = checkWish(environmentOf(open.liveCode, open.live, user), wish, user)
  const backfill = begun(open, token, () => kept.beginBackfill(open.live, table, wish, user))
  noteUntouched(open.live, backfill.id)
  return backfill
}

/** Rows of a file, part by part. @param stage what the part before was given; null for the first @param part counted from 0 */
export function stageRows(open: OpenProject, stage: number | null, part: number, rows: kept.FileRow[]): number {
  return open.live.transaction(() => ({ value: kept.stageRows(open.live, stage, part, rows), keep: true }))
}

/** Begins to save rows that were staged. @throws HookError project/unknown-table */
export function beginRows(
  open: OpenProject,
  wish: BackfillWish,
  user: string,
  staged: Parameters<typeof kept.beginRows>[3],
  token: string,
): BackfillInfo {
  tableNamed(open.liveCode.for(user).project.tables, wish.table)
  return begun(open, token, () => kept.beginRows(open.live, wish, user, staged))
}

/** @throws HookError backfill/unknown, or backfill/state where there are no changes to undo, or not yet */
export function undoBackfill(open: OpenProject, id: number, user: string, token: string): BackfillInfo {
  const backfill = kept.readBackfill(open.live, id)
  const { state, undoneBy } = backfill
  if (state === 'running') throw new HookError('backfill/state', { backfill: id, state: 'still running', asked: 'undone' })
  if (undoneBy !== null)
    throw new HookError('backfill/state', { backfill: id, state: `undone by ${undoneBy}`, asked: 'undone again' })
  return begun(open, token, () => {
    // What was paused, or could not go on, is not resumed once it is undone.
    if (state !== 'done') kept.setState(open.live, id, 'cancelled')
    return kept.beginUndo(open.live, backfill, user)
  })
}

function begun(open: OpenProject, token: string, work: () => number): BackfillInfo {
  const { live } = open
  return live.transaction(() => {
    const id = work()
    keepFiles(open, new Map(), token)
    return { value: kept.readBackfill(live, id), keep: true }
  })
}

/** Pauses a backfill, continues with it, or ends it. @throws HookError backfill/unknown or backfill/state */
export function holdBackfill(open: OpenProject, id: number, state: 'running' | 'paused' | 'cancelled'): BackfillInfo {
  const { state: now } = kept.readBackfill(open.live, id)
  if (now === 'done' || now === 'cancelled')
    throw new HookError('backfill/state', { backfill: id, state: now, asked: state === 'running' ? 'resumed' : state })
  kept.setState(open.live, id, state)
  return kept.readBackfill(open.live, id)
}

/** Notes why a backfill cannot go on: its engine ended at the same place again. */
export function failBackfill(open: OpenProject, id: number, failure: ErrorReport): void {
  if (kept.readBackfill(open.live, id).state === 'running') kept.setState(open.live, id, 'failed', failure)
}

/** Does the next batch of one that is running. @param rows at most */
export function stepBackfill(open: OpenProject, id: number, rows: number): BackfillInfo {
  const { live } = open
  const { backfill, outcome, untouched } = step(live, (user) => environmentOf(open.liveCode, live, user), id, rows)
  if (outcome) {
    open.tally.add(open.liveCode.for(backfill.user).program, outcome)
    open.tally.writeNowAndThen(live)
  }
  // Figures of hooks are no records.
  if (untouched) noteUntouched(live, id)
  return backfill
}
