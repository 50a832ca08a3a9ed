import { statSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

/**
 * The one file that scripts/bundle.mjs makes of a module and all that it imports, next to it; null where there is none, or something was
 * built since.
 * @param module that was built
 * @param builds what TypeScript notes of its last build of each package that is in it
 */
export function bundleOf(module: URL, builds: readonly URL[]): URL | null {
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
