import type { Files } from '@patient-hook/contract'
import { pluginsIn } from '@patient-hook/contract/paths'
import { createHash } from 'node:crypto'
import { applyEdits, modify } from 'jsonc-parser'
import { HookError } from '../errors.js'
import { hintFor } from '../model/names.js'
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
export const baseOf = (files: ReadonlyMap<string, string>, fixtures: boolean): Map<string, string> =>
  new Map([...withoutRecords(files, fixtures)].filter(([path]) => !path.startsWith('plugins/')))

/** @param fixtures keep the fixture sets */
export const withoutRecords = (files: ReadonlyMap<string, string>, fixtures: boolean): Map<string, string> =>
  new Map([...files].filter(([path]) => !path.startsWith('data/') && (fixtures || !path.startsWith('fixtures/'))))

export function compose(base: ReadonlyMap<string, string>, releases: Iterable<Pick<Release, 'files'>>): Map<string, string> {
  const files = new Map(base)
  for (const release of releases) for (const [path, text] of Object.entries(release.files)) files.set(path, text)
  return files
}

/** A plugin to be taken elsewhere: its files, and the fixture sets that its tests name. @throws HookError release/no-plugin */
export function zipOfPlugin(files: ReadonlyMap<string, string>, plugin: string): Map<string, string> {
  const own = filesOfPlugin(files, plugin)
  const tests = Object.entries(own).filter(([path]) => path.endsWith('.test.ts'))
  const sets = new Set(tests.flatMap(([, text]) => [...text.matchAll(/fixtures:\s*['"`]([^'"`]+)/g)].map(([, set]) => set!)))
  const fixtures = [...files].filter(([path]) => /^fixtures\//.test(path) && sets.has(path.split('/')[1]!))
  if (Object.keys(own).length === 0)
    throw new HookError('release/no-plugin', { plugin, hint: hintFor(plugin, pluginsIn(files.keys())) })
  return new Map([...Object.entries(own), ...fixtures])
}

/** A plugin's files under another version, which is in its plugin.json; the rest of that file stays as it was written. */
export function withVersion(files: Files, plugin: string, version: string): Files {
  const file = pluginFile(plugin)
  const text = files[file]
  if (text === undefined) return files
  const edits = modify(text, ['version'], version, { formattingOptions: { insertSpaces: true, tabSize: 2 } })
  return { ...files, [file]: applyEdits(text, edits) }
}

/** The version that is in a plugin.json; null where none does, or the file cannot be read. */
export function versionIn(text: string | undefined): string | null {
  try {
    const { version } = JSON.parse(text ?? '{}') as { version?: unknown }
    return typeof version === 'string' ? version : null
  } catch {
    return null
  }
}

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex')

/** By path: the text that was stamped last, and its hash. Most texts are asked for again and again. */
const hashes = new Map<string, { text: string; hash: string }>()

function hashOf(path: string, text: string): string {
  const known = hashes.get(path)
  if (known?.text === text) return known.hash
  const hash = sha256(text)
  hashes.set(path, { text, hash })
  return hash
}

/** Names a text: the same for the same files, whatever their order. */
export const stampOf = (files: ReadonlyMap<string, string>): string =>
  sha256(
    [...files]
      .map(([path, text]) => `${path}\0${hashOf(path, text)}\n`)
      .sort()
      .join(''),
  )

/** Are two texts of a plugin the same but for the version? */
export function sameText(a: Files, b: Files, plugin: string): boolean {
  const bare = (files: Files) => stampOf(new Map(Object.entries(withVersion(files, plugin, '0.0.0'))))
  return bare(a) === bare(b)
}
