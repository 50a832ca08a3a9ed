import type { ReplayedSave } from '@patient-hook/contract'
import { HookError, isRefusal, type ErrorReport } from '../../errors.js'
import { keptSave, lastSaves, type Given, type KeptSave } from '../../save/given.js'
import { trySave, type SaveEnvironment } from '../../save/save.js'
import { differencesOf } from './compare.js'
import { redoSave, rewindNumbers, undoSave } from './rewind.js'

/** Kept saves are run again, each on the records as they were before it, and what comes out is held against what was kept. */

/** Differences that are reported about one save, and rows that it was given. */
const MOST_TOLD = 100
const MOST_ROWS_TOLD = 5

/**
 * @param environment with a copy of the live records and the code to be tried; no changes are saved
 * @param saves their numbers, oldest first, without a gap; all later ones are undone first
 * @param after only those after this one are run
 */
export function replay(
  environment: SaveEnvironment,
  saves: readonly number[],
  after: number | null,
  tell: { begin(save: KeptSave): void; result(result: ReplayedSave): void },
): void {
  const { store, project } = environment
  store.transaction(() => {
    const unreachable = takeBack(environment, saves)
    for (const save of saves) {
      const kept = keptSave(store, save)!
      const isReached = unreachable === null || save > unreachable.save
      if (after === null || save > after) {
        tell.begin(kept)
        tell.result(isReached ? again(environment, kept) : told(kept, 'not-run', unreachable.error))
      }
      if (isReached) redoSave(store, project, save)
    }
    return { value: undefined, keep: false }
  })
}

/**
 * Runs work on the records as they were before a save; then rolls it back.
 * @throws HookError rehearse/cannot-rewind, or rehearse/no-save where there is none with this number
 */
export function asOf<T>(environment: SaveEnvironment, save: number, work: (given: Given | null) => T): T {
  const { store } = environment
  return store.transaction(() => {
    const kept = keptSave(store, save)
    if (!kept) throw new HookError('rehearse/no-save', { save })
    const unreachable = takeBack(environment, [save])
    if (unreachable) throw unreachable.error
    if (kept.given) rewindNumbers(store, kept.given)
    return { value: work(kept.given), keep: false }
  })
}

/** @returns the first save on the way back that cannot be undone, and why */
function takeBack({ store, project }: SaveEnvironment, saves: readonly number[]): { save: number; error: HookError } | null {
  const [oldest = Infinity] = saves
  const all = lastSaves(store, Number.MAX_SAFE_INTEGER).filter((save) => save >= oldest)
  for (const save of all.reverse())
    try {
      undoSave(store, project, save)
    } catch (error) {
      if (!HookError.is(error)) throw error
      return { save, error }
    }
  return null
}

function again(environment: SaveEnvironment, kept: KeptSave): ReplayedSave {
  const { given, at, user, id } = kept
  if (!given) return told(kept, 'not-run', new HookError('rehearse/not-given', { save: id }))
  const { store } = environment
  return store.transaction(() => {
    rewindNumbers(store, given)
    const outcome = trySave(environment, given.rows, { user, clock: at, partial: given.partial, rehearse: true, record: true })
    const { error } = outcome
    if (error) return { value: told(kept, isRefusal(error) ? 'refused' : 'failed', new HookError(error)), keep: false }
    const differences = differencesOf(store, id, outcome)
    const result = told(kept, differences.length > 0 ? 'different' : 'same', null)
    return {
      value: { ...result, differences: differences.slice(0, MOST_TOLD), differing: differences.length },
      keep: false,
    }
  })
}

function told({ id, at, user, given }: KeptSave, outcome: ReplayedSave['outcome'], error: HookError | null): ReplayedSave {
  const rows = (given?.rows ?? []).slice(0, MOST_ROWS_TOLD) as ReplayedSave['rows']
  const { refusals, ...report } = error?.report ?? {}
  const cause = error && ({ ...report, ...(refusals ? { refusals: refusals.slice(0, MOST_ROWS_TOLD) } : {}) } as ErrorReport)
  return { save: id, at, user, outcome, error: cause, rows, differences: [], differing: 0 }
}
