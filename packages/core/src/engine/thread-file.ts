import { statSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

/** The file that a thread starts with: all of it in one, where that was made after the last build; else the module. */

/** What TypeScript notes of its last build, of this package and of the one that it uses. */
const BUILDS = ['../../dist/.tsbuildinfo', '../../../contract/dist/.tsbuildinfo'].map((path) => new URL(path, import.meta.url))

/** @param module a file of this package that was built, beside which its bundle may stand */
export function threadFile(module: URL, builds: readonly URL[] = BUILDS): URL {
  const bundle = new URL(module.href.replace(/\.js$/, '.bundle.js'))
  const made = timeOf(bundle)
  return made !== null && builds.every((build) => (timeOf(build) ?? 0) <= made) ? bundle : module
}

function timeOf(file: URL): number | null {
  try {
    return statSync(fileURLToPath(file)).mtimeMs
  } catch {
    return null
  }
}
