import { fileURLToPath } from 'node:url'
import { Worker, type WorkerOptions } from 'node:worker_threads'
import { bundleOf } from '../bundle.js'

/** Starts a thread with all of its code in one file, where there is one, else with its module. */

/** Of this package and of the one that it uses. */
const BUILDS = ['../../dist/.tsbuildinfo', '../../../contract/dist/.tsbuildinfo'].map((path) => new URL(path, import.meta.url))

/** Runs a bundle. */
const RUNNER = new URL('../../thread.mjs', import.meta.url)

/** @param module a file of this package that was built */
export function startThread(module: URL, options: WorkerOptions): Worker {
  const bundle = bundleOf(module, BUILDS)
  return bundle ? new Worker(RUNNER, { ...options, argv: [fileURLToPath(bundle)] }) : new Worker(module, options)
}
