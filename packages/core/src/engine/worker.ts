import 'ses'
import { parentPort, workerData } from 'node:worker_threads'
import { HookError, report, type ErrorReport } from '../errors.js'
import { onModuleNumber } from '../sandbox/module-numbers.js'
import { Engine } from './engine.js'
import type { Call } from './protocol.js'

/** The thread that owns the database connection and runs hooks. Everything a hook can reach is frozen first. */

declare const lockdown: (options: object) => void
lockdown({
  errorTaming: 'unsafe',
  overrideTaming: 'severe',
  consoleTaming: 'unsafe',
  stackFiltering: 'verbose',
  domainTaming: 'unsafe',
  localeTaming: 'unsafe',
})

const port = parentPort!
const { cells } = workerData as { cells: Int32Array }
onModuleNumber((number, file) => port.postMessage({ event: 'module', data: { number, file } }))
const engine = new Engine(cells, (event, data) => port.postMessage({ event, data }))

function toReport(error: unknown): ErrorReport {
  if (error instanceof HookError) return error.report
  const { message, stack } = error as Error
  return report('engine/stopped', { detail: `${message}\n${stack ?? ''}` })
}

port.on('message', ({ id, method, values }: Call) => {
  try {
    const value = (engine[method] as (...values: unknown[]) => unknown)(...values)
    port.postMessage({ id, json: JSON.stringify(value) })
  } catch (error) {
    port.postMessage({ id, error: toReport(error) })
  }
})
