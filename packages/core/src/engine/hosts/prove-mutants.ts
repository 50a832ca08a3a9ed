import type { Files, MutantResult } from '@patient-hook/contract'
import { sideBySide } from './side-by-side.js'
import { isStopped } from './stopped.js'
import type { TryEngines } from './try-engines.js'

/** Tries the mutants of hooks, side by side on the engines that try; one that hangs is caught, and the rest goes on. */

export interface MutantOptions {
  drafts?: Files
  /** Only these; default: all. */
  hooks?: readonly string[]
  signal?: AbortSignal
  onResult: (result: MutantResult) => void
  onProgress: (done: number, total: number) => void
}

/** @throws HookError where the project's files are wrong, or request/cancelled */
export async function proveMutants(engines: TryEngines, options: MutantOptions): Promise<void> {
  const { drafts, hooks, signal, onResult, onProgress } = options
  const aims = await engines.call('mutantAims', [drafts, hooks && [...hooks]], { signal })
  const total = aims.reduce((sum, { count }) => sum + count, 0)
  let done = 0
  onProgress(done, total)
  const most = aims.filter(({ count }) => count > 0).sort((a, b) => b.count - a.count)
  await sideBySide(engines, most, ({ hook, count }) => mutantsOf(hook, count))

  async function mutantsOf(hook: string, count: number): Promise<void> {
    let tried = 0
    const note = (result: MutantResult) => {
      tried++
      onResult(result)
      onProgress(++done, total)
    }
    type Begun = Omit<MutantResult, 'outcome' | 'reason' | 'by' | 'shows' | 'batch' | 'fixtures'>
    while (tried < count) {
      let atWork: Begun | null = null
      try {
        await engines.call('mutants', [drafts, hook, tried], {
          signal,
          background: true,
          onEvent: (event, data) => {
            if (event === 'mutant') atWork = data as Begun
            else if (event === 'result') {
              atWork = null
              note(data as MutantResult)
            }
          },
        })
        return
      } catch (error) {
        // Assigned in the events, which the compiler does not see.
        const hung = atWork as Begun | null
        if (!isStopped(error) || hung === null) throw error
        note({
          ...hung,
          outcome: 'caught',
          reason: null,
          by: `it was stopped: ${error.report.message}`,
          shows: null,
          batch: null,
          fixtures: null,
        })
      }
    }
  }
}
