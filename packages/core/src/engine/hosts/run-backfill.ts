import type { BackfillInfo, BackfillPlan, BackfillWish } from '@patient-hook/contract'
import type { LiveEngine } from './live-engine.js'
import { isStopped } from './stopped.js'
import type { TryEngines } from './try-engines.js'

/** Backfills seen from outside: planned on an engine that tries, run on the live one so that saves come through in between. */

export interface Watching {
  signal?: AbortSignal
  onProgress: (done: number, total: number) => void
}

/** @throws HookError backfill/bad, that of a batch, or request/cancelled */
export function planBackfill(
  engines: TryEngines,
  wish: BackfillWish,
  user: string,
  sample: number | null,
  { signal, onProgress }: Watching,
): Promise<BackfillPlan> {
  return engines.call('planBackfill', [wish, user, sample], {
    signal,
    background: true,
    onEvent: (event, data) => {
      const { done, total } = data as { done: number; total: number }
      if (event === 'progress') onProgress(done, total)
    },
  })
}

/** Milliseconds that a batch should take, for which a save that comes meanwhile waits. */
const BATCH_MS = 40
const FEWEST = 20
const MOST = 5000

/**
 * Does batch after batch until it has been through all, or is paused, ended or failed; goes on after an engine that had to be replaced.
 * @param signal ends the work between two batches; the backfill is running still, and goes on when it is run again
 * @throws HookError where the engine ends at the same place again
 */
export async function runBackfill(live: LiveEngine, id: number, { signal, onProgress }: Watching): Promise<BackfillInfo> {
  let rows = 200
  let stoppedAt: number | null = null
  let done = -1
  for (;;) {
    const began = performance.now()
    let backfill: BackfillInfo
    try {
      backfill = await live.call('stepBackfill', id, rows)
    } catch (error) {
      // The batch was kept or was not, its cursor with it: nothing is done twice. What ends the engine again at the same place is no chance.
      if (!isStopped(error) || stoppedAt === done) throw error
      stoppedAt = done
      continue
    }
    done = backfill.done
    onProgress(backfill.done, backfill.total)
    if (backfill.state !== 'running' || signal?.aborted) return backfill
    const share = BATCH_MS / Math.max(1, performance.now() - began)
    rows = Math.round(Math.min(MOST, Math.max(FEWEST, rows * Math.min(2, Math.max(0.5, share)))))
  }
}
