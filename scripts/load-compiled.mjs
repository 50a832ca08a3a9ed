// Loads TypeScript, and with `thread` starts an engine's thread, so that what V8 makes of them is kept before anybody waits for it (packages/core/compiled-script.mjs). Run by bundle.mjs.
import { once } from 'node:events'
import ts from '../packages/core/typescript.mjs'
import { startThread } from '../packages/core/dist/engine/thread.js'
import { CELLS } from '../packages/core/dist/watch.js'

void ts.version
if (process.argv[2] === 'thread') {
  const cells = new Int32Array(new SharedArrayBuffer(CELLS * 4))
  const thread = startThread(new URL('../packages/core/dist/engine/worker.js', import.meta.url), { workerData: { cells } })
  await once(thread, 'message')
  // It says that it is ready before it is kept; what it is asked is answered after that, if only with an error.
  thread.postMessage({ id: 1, call: 'declarations', values: [] })
  await once(thread, 'message')
  await thread.terminate()
}
