import 'ses'
import { parentPort, workerData } from 'node:worker_threads'
import { HookError, report, type ErrorReport } from '../errors.js'
import { keepOnDisk, writeKept } from '../disk/kept-on-disk.js'
import { askCompiler } from '../language/compiler.js'
import { sealIntrinsics, wholeStackOf } from '../sandbox/intrinsics.js'
import { onNumber, rest, watchWith } from '../watch.js'
import { CALLS, type CallName } from './calls/index.js'
import { compilerBeyond } from './compiler-calls.js'
import { OpenProject } from './open-project.js'
import type { FromThread, ToThread } from './protocol.js'

/** The thread that owns a database connection and runs hooks. Everything a hook can reach is frozen first. */

const port = parentPort!
const { cells } = workerData as { cells: Int32Array }
const send = (message: FromThread): void => port.postMessage(message)

sealIntrinsics()
keepOnDisk()
askCompiler(compilerBeyond(port))
watchWith(cells)
onNumber((kind, first, names) => send({ named: { kind, first, names } }))

const project = new OpenProject()

/** @param error of our own code: hook code's errors have been read by the sandbox */
function toReport(error: unknown): ErrorReport {
  if (error instanceof HookError) return error.report
  const known = project.toHookError(error)
  if (known instanceof HookError) return known.report
  const { message } = error as Error
  process.stderr.write(`${wholeStackOf(error as Error) ?? message}\n`)
  return report('engine/failed', { reason: message })
}

/** What was computed is written when nobody asks for more: to write it after each of a hundred files of tests took a seventh of running them. */
const PAUSE_MS = 300
let pause: NodeJS.Timeout | undefined

port.on('message', (message: ToThread) => {
  clearTimeout(pause)
  if ('end' in message) {
    writeKept()
    return send({ ended: true })
  }
  const { id, call, values } = message
  project.tell = (event, data) => send({ id, event, data })
  try {
    const value = (CALLS[call as CallName] as (project: OpenProject, ...values: unknown[]) => unknown)(project, ...values)
    project.beforeAnswer()
    send({ id, json: JSON.stringify(value) })
  } catch (error) {
    send({ id, error: toReport(error) })
  } finally {
    rest()
    project.afterCall()
    pause = setTimeout(writeKept, PAUSE_MS)
  }
})
send({ ready: true })
