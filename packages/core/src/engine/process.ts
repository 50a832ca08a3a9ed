import { report, type ErrorReport } from '../errors.js'
import { removeFolders } from '../language/native-compiler.js'
import { CELL, CELLS, type Numbered } from '../watch.js'
import { compileFor } from './compiler-calls.js'
import type { EngineLimits, FromEngine, FromThread, ToEngine, ToThread } from './protocol.js'
import { startThread } from './thread.js'
import { Watchdog } from './watchdog.js'

/**
 * An engine's process. Its thread owns a database and runs hooks; this one only watches: what hangs, or needs more memory than it
 * may, is answered with an error that names it, and ends with the whole process, since some native calls never look up. SQLite rolls
 * an open transaction back. A spare process takes over.
 */

/** How often the thread is looked at, and for how long a call that was cancelled may go on, in milliseconds. */
const LOOK = 100
const GRACE = 250
/** How long the thread may take to write what is worth keeping, when nobody is there any more; in milliseconds. */
const ENDING = 1000

const limits = JSON.parse(process.argv[2]!) as EngineLimits
const cells = new Int32Array(new SharedArrayBuffer(CELLS * 4))
const watchdog = new Watchdog(cells, limits)
let call: number | null = null
let looking: NodeJS.Timeout | null = null
let told = ''

const send = (message: FromEngine, sent?: () => void): void => {
  if (!process.connected) sent?.()
  else if (sent) process.send!(message, () => sent())
  else process.send!(message)
}

/** Answers the call at work, if any, and ends. */
function die(error: ErrorReport): void {
  const end = () => {
    removeFolders()
    process.kill(process.pid, 'SIGKILL')
  }
  if (looking) clearInterval(looking)
  if (call === null) end()
  else send({ id: call, error, dying: true }, end)
}

const worker = startThread(new URL('./worker.js', import.meta.url), {
  workerData: { cells },
  resourceLimits: { maxOldGenerationSizeMb: limits.memoryMb },
})
worker.on('message', (message: FromThread) => {
  if ('named' in message) return watchdog.named(message.named.kind as Numbered, message.named.first, message.named.names)
  if ('ended' in message) return process.exit(0)
  if ('compile' in message) return void compileFor(message.compile)
  if ('id' in message && !('event' in message)) {
    call = null
    if (looking) clearInterval(looking)
    looking = null
  }
  send(message)
})
worker.on('error', (error: Error & { code?: string }) =>
  die(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? watchdog.memory() : report('engine/stopped', { reason: error.message })),
)
worker.on('exit', () => die(report('engine/stopped', { reason: 'its thread ended' })))

/** Memory outside of JavaScript's heap that the process may have besides: SQLite's, the driver's, texts on their way. */
const OUTSIDE_MB = 512
/** Memory may not have been given back by the call before: only what this one adds is held against it. */
const GROWTH_MB = 128
const MB = 2 ** 20
let sizeBefore = 0

function isTooLarge(): boolean {
  const size = process.memoryUsage.rss()
  return size > (limits.memoryMb + OUTSIDE_MB) * MB && size > sizeBefore + GROWTH_MB * MB
}

function look(): void {
  const error = watchdog.look(performance.now()) ?? (isTooLarge() ? watchdog.memory() : null)
  if (error) return die(error)
  // For an end that nobody can catch: an array that is too large to be made aborts the whole process.
  if (cells[CELL.hook] === 0) return
  const atWork = watchdog.memory()
  const text = JSON.stringify(atWork)
  if (text === told) return
  told = text
  send({ atWork })
}

process.on('message', (message: ToEngine) => {
  if ('cancel' in message) {
    if (message.cancel !== call) return
    cells[CELL.cancel] = 1
    setTimeout(() => {
      if (call === message.cancel) die(report('request/cancelled'))
    }, GRACE)
    return
  }
  call = message.id
  watchdog.begin(performance.now())
  sizeBefore = process.memoryUsage.rss()
  looking ??= setInterval(look, LOOK)
  worker.postMessage(message)
})
process.on('disconnect', () => {
  // Nobody waits for the call at work.
  if (call !== null) process.exit(0)
  setTimeout(() => process.exit(0), ENDING)
  worker.postMessage({ end: true } satisfies ToThread)
})
process.on('exit', removeFolders)
// A user who started this process may have gone while it loaded.
if (!process.connected) process.exit(0)
