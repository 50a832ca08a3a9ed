import { statSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { Worker, type WorkerOptions } from 'node:worker_threads'

/** What a thread starts with: all of its code in one file, where that was made after the last build; else the module. */

/** What TypeScript notes of its last build, of this package and of the one that it uses. */
const BUILDS = ['../../dist/.tsbuildinfo', '../../../contract/dist/.tsbuildinfo'].map((path) => new URL(path, import.meta.url))

/** Runs a bundle; of this package, wherever in it this stands. */
const RUNNER = new URL('../../thread.mjs', import.meta.url)

/** @param module a file of this package that was built, beside which its bundle may stand */
export function startThread(module: URL, options: WorkerOptions): Worker {
  const bundle = bundleOf(module)
  return bundle ? new Worker(RUNNER, { ...options, argv: [fileURLToPath(bundle)] }) : new Worker(module, options)
}

/** @returns null where there is none, or something was built since */
export function bundleOf(module: URL, builds: readonly URL[] = BUILDS): URL | null {
  const bundle = new URL(module.href.replace(/\.js$/, '.bundle.cjs'))
  const made = timeOf(bundle)
  return made !== null && builds.every((build) => (timeOf(build) ?? 0) <= made) ? bundle : null
}

function timeOf(file: URL): number | null {
  try {
    return statSync(fileURLToPath(file)).mtimeMs
  } catch {
    return null
  }
}
