/** Which files a project may have: a leaf that needs nothing, for those who only read and write folders. */

const BELONGS =
  /^(project\.json|tables\/[^/]+\.json|plugins\/[^/]+\/plugin\.json|plugins\/[^/]+\/(hooks|lib|tests)\/.+\.ts|fixtures\/[^/]+\/[^/]+\.(csv|json)|data\/[^/]+\.(csv|json))$/
/** Names of files and folders that every system can hold: no control characters, nothing that Windows forbids. */
const PART = /^[^\p{Cc}\\:*?"<>|]+$/u

/** Is this the path of a file that a project may have, from its folder? */
export const belongsToProject = (path: string): boolean =>
  path.length <= 300 &&
  BELONGS.test(path) &&
  path.split('/').every((part) => PART.test(part) && part !== '.' && part !== '..' && !/[. ]$/.test(part))

/** The plugin that a file belongs to; null for a file of no plugin. */
export const pluginOfPath = (path: string): string | null => /^plugins\/([^/]+)\//.exec(path)?.[1] ?? null

/** The hook that a file is, with its plugin; null for any other file. */
export function hookOfPath(path: string): { plugin: string; hook: string } | null {
  const [, plugin, hook] = /^plugins\/([^/]+)\/hooks\/(?:.*\/)?([^/]+)\.ts$/.exec(path) ?? []
  return plugin === undefined || hook === undefined ? null : { plugin, hook }
}

/** Plugins that have any file among these. */
export const pluginsIn = (paths: Iterable<string>): string[] => [
  ...new Set([...paths].map(pluginOfPath).filter((plugin) => plugin !== null)),
]
