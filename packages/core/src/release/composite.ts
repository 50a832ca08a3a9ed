import type { Files } from '@patient-hook/contract'
import { createHash } from 'node:crypto'
import { applyEdits, modify } from 'jsonc-parser'
import type { Release } from './release-store.js'

/** The text that runs on saves: the model as it stands, and of each plugin the files of one release. */

export const pluginFile = (plugin: string): string => `plugins/${plugin}/plugin.json`

export const isOf = (plugin: string) => {
  const folder = `plugins/${plugin}/`
  return (path: string): boolean => path.startsWith(folder)
}

export const filesOfPlugin = (files: ReadonlyMap<string, string>, plugin: string): Files => {
  const own = isOf(plugin)
  return Object.fromEntries([...files].filter(([path]) => own(path)).sort(([a], [b]) => (a < b ? -1 : 1)))
}

/** Everything that is no plugin's: the model, and fixture sets where they are wanted. Records a new database starts with never are. */
export function baseOf(files: ReadonlyMap<string, string>, fixtures: boolean): Map<string, string> {
  return new Map(
    [...files].filter(
      ([path]) => !path.startsWith('plugins/') && !path.startsWith('data/') && (fixtures || !path.startsWith('fixtures/')),
    ),
  )
}

export function compose(base: ReadonlyMap<string, string>, releases: Iterable<Pick<Release, 'files'>>): Map<string, string> {
  const files = new Map(base)
  for (const release of releases) for (const [path, text] of Object.entries(release.files)) files.set(path, text)
  return files
}

/** A plugin's files under another version, which stands in its plugin.json; the rest of that file stays as it was written. */
export function withVersion(files: Files, plugin: string, version: string): Files {
  const file = pluginFile(plugin)
  const text = files[file]
  if (text === undefined) return files
  const edits = modify(text, ['version'], version, { formattingOptions: { insertSpaces: true, tabSize: 2 } })
  return { ...files, [file]: applyEdits(text, edits) }
}

/** The version that stands in a plugin.json; null where none does, or the file cannot be read. */
export function versionIn(text: string | undefined): string | null {
  try {
    const { version } = JSON.parse(text ?? '{}') as { version?: unknown }
    return typeof version === 'string' ? version : null
  } catch {
    return null
  }
}

/** Names a text: the same for the same files, whatever their order. */
export function stampOf(files: ReadonlyMap<string, string>): string {
  const hash = createHash('sha256')
  for (const [path, text] of [...files].sort(([a], [b]) => (a < b ? -1 : 1)))
    hash.update(`${path}\0${text.length}\0`).update(text)
  return hash.digest('hex')
}

/** Are two texts of a plugin the same but for the version? */
export function sameText(a: Files, b: Files, plugin: string): boolean {
  const bare = (files: Files) => stampOf(new Map(Object.entries(withVersion(files, plugin, '0.0.0'))))
  return bare(a) === bare(b)
}
