import { parentPort, workerData } from 'node:worker_threads'
import { HookError, report, type ErrorReport } from '../../errors.js'
import type { ReadAnswer, ReadCall } from './reader.js'
import { READS } from '../reads.js'
import { LiveTables } from './live-tables.js'

/** The thread of a Reader. */

const port = parentPort!
const { database } = workerData as { database: string }
const open = new LiveTables(database)

function toReport(error: unknown): ErrorReport {
  const known = open.toHookError(error)
  return known instanceof HookError ? known.report : report('engine/failed', { reason: (error as Error).message })
}

port.on('message', ({ id, read, values }: ReadCall) => {
  let answer: ReadAnswer
  try {
    answer = { id, value: (READS[read] as (open: LiveTables, ...values: unknown[]) => unknown)(open, ...values) }
  } catch (error) {
    answer = { id, error: toReport(error) }
  }
  port.postMessage(answer)
})
