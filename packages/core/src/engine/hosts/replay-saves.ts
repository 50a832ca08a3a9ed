import type { Files, ReplayedSave } from '@patient-hook/contract'
import { isStopped } from './stopped.js'
import type { TryEngines } from './try-engines.js'

/** Runs kept saves again on an engine that tries; one that hangs is reported as failed, and the rest goes on. */

export interface ReplayOptions {
  /** The last so many saves. */
  last: number
  drafts?: Files
  signal?: AbortSignal
  onResult: (result: ReplayedSave) => void
  onProgress: (done: number, total: number) => void
}

/** @throws HookError where the project's files are wrong, or request/cancelled */
export async function replaySaves(engines: TryEngines, options: ReplayOptions): Promise<void> {
  const { last, drafts, signal, onResult, onProgress } = options
  const saves = await engines.call('savesToReplay', [last], { signal })
  let done = 0
  onProgress(done, saves.length)
  const note = (result: ReplayedSave) => {
    onResult(result)
    onProgress(++done, saves.length)
  }
  let after: number | null = null
  while (done < saves.length) {
    let atWork: Pick<ReplayedSave, 'save' | 'at' | 'user'> | null = null
    try {
      await engines.call('replaySaves', [drafts, saves, after], {
        signal,
        background: true,
        onEvent: (event, data) => {
          if (event === 'save') atWork = data as typeof atWork
          else if (event === 'result') note(data as ReplayedSave)
        },
      })
      return
    } catch (error) {
      // Assigned in the events, which the compiler does not see.
      const hung = atWork as Pick<ReplayedSave, 'save' | 'at' | 'user'> | null
      // It was not a save that hung, so another try would not help.
      if (!isStopped(error) || hung === null || hung.save === after) throw error
      note({ ...hung, outcome: 'failed', error: error.report, rows: [], differences: [], differing: 0 })
      after = hung.save
    }
  }
}
