import type { BulkPropertyName, BulkVerdict, Files } from '@patient-hook/contract'
import { BULK_PROPERTIES } from '@patient-hook/contract/words'
import type { BulkAim } from '../../prove/bulk/prove-bulk.js'
import { sideBySide } from './side-by-side.js'
import { isStopped } from './stopped.js'
import type { TryEngines } from './try-engines.js'

/** Proves hooks in bulk, side by side on the engines that try; one that hangs does not hold, and the rest goes on. */

export interface BulkOptions {
  drafts?: Files
  /** Only these; default: all, and every table's whole save path. */
  hooks?: readonly string[]
  seed: number
  /** Seconds for all of it; what is begun is ended. */
  seconds?: number
  signal?: AbortSignal
  onResult: (verdict: BulkVerdict) => void
  onProgress: (done: number, total: number) => void
}

/** Batches for one property of one hook, and milliseconds. */
const RUNS = 25
const MOST_MS = 4000
const LEAST_MS = 100

/** @throws HookError where the project's files are wrong, or request/cancelled */
export async function proveBulk(engines: TryEngines, options: BulkOptions): Promise<void> {
  const { drafts, hooks, seed, seconds, signal, onResult, onProgress } = options
  const aims = await engines.call('bulkAims', [drafts, hooks && [...hooks]], { signal })
  const share = seconds === undefined ? MOST_MS : (seconds * 1000 * engines.size) / (aims.length * BULK_PROPERTIES.length)
  const effort = { seed, runs: RUNS, ms: Math.round(Math.min(MOST_MS, Math.max(LEAST_MS, share))) }
  const total = aims.length * BULK_PROPERTIES.length
  let done = 0
  onProgress(done, total)
  await sideBySide(engines, aims, (aim) =>
    proveOne(aim, (verdict) => {
      onResult(verdict)
      onProgress(++done, total)
    }),
  )

  async function proveOne(aim: BulkAim, note: (verdict: BulkVerdict) => void): Promise<void> {
    let left: BulkPropertyName[] = [...BULK_PROPERTIES]
    while (left.length > 0)
      try {
        await engines.call('bulkProof', [drafts, aim, effort, left], {
          signal,
          background: true,
          onEvent: (event, data) => {
            if (event !== 'property') return
            const verdict = data as BulkVerdict
            left = left.filter((each) => each !== verdict.property)
            note(verdict)
          },
        })
        return
      } catch (error) {
        if (!isStopped(error) || error.code === 'engine/closed') throw error
        const [property] = left
        left = left.slice(1)
        const { message } = error.report
        const nothing = { batch: null, fixtures: null, without: [], rows: 0, ran: 0, growth: null, accepted: false }
        note({ ...aim, ...nothing, property: property!, holds: false, reason: `it was stopped: ${message}` })
      }
  }
}
