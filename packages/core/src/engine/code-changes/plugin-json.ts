import { applyEdits, modify } from 'jsonc-parser'
import type { Project } from '../../model/types.js'

/** The settings of a hook in its plugin.json: taken along, given another name, or removed; the rest stays as it was written. */

const FORMAT = { formattingOptions: { insertSpaces: true, tabSize: 2 } }

export const fileOf = (plugin: string): string => `plugins/${plugin}/plugin.json`

function set(text: string, path: string[], value: unknown): string {
  return applyEdits(text, modify(text, path, value, FORMAT))
}

/** What plugin.json says of a hook; undefined where it says nothing. */
export function settingsOf(project: Project, plugin: string, hook: string): unknown {
  const { hooks } = JSON.parse(project.files.get(fileOf(plugin))!) as { hooks?: Record<string, unknown> }
  return hooks?.[hook]
}

export const withSettings = (text: string, hook: string, settings: unknown): string =>
  settings === undefined ? text : set(text, ['hooks', hook], settings)

export function withoutSettings(text: string, hook: string): string {
  const { hooks } = JSON.parse(text) as { hooks?: Record<string, unknown> }
  if (hooks?.[hook] === undefined) return text
  return set(text, Object.keys(hooks).length === 1 ? ['hooks'] : ['hooks', hook], undefined)
}

/** The name that a plugin.json may give, so it does not say another than its folder. */
export function withName(text: string, name: string): string {
  const { name: given } = JSON.parse(text) as { name?: string }
  return given === undefined ? text : set(text, ['name'], name)
}
