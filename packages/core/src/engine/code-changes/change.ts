import type { CodeChange, CodeChangeKind, CodePlan } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { hintFor } from '../../model/names.js'
import type { Plugin, Project } from '../../model/types.js'

/** What each kind of change needs: the project as it stands, with drafts. */

export type ChangeOf<K extends CodeChangeKind> = Extract<CodeChange, { kind: K }>

/** @throws HookError where the name is unknown, or the new name is taken */
/** What a change does, before it is known which saved texts it replaces. */
export type PlannedChange = Omit<CodePlan, 'from'>

export type Planner<K extends CodeChangeKind> = (project: Project, change: ChangeOf<K>) => PlannedChange

export interface FoundHook {
  plugin: Plugin
  file: string
}

/** @throws HookError code/unknown */
export function hookOf(project: Project, name: string): FoundHook {
  const all = [...project.plugins.values()].flatMap((plugin) => plugin.hooks.map(({ name, file }) => ({ plugin, name, file })))
  const hook = all.find((each) => each.name === name)
  if (!hook)
    throw new HookError('code/unknown', {
      what: 'hook',
      name,
      hint: hintFor(
        name,
        all.map((each) => each.name),
      ),
    })
  return { plugin: hook.plugin, file: hook.file }
}

/** @throws HookError code/unknown */
export function pluginNamed(project: Project, name: string): Plugin {
  const plugin = project.plugins.get(name)
  if (!plugin) throw new HookError('code/unknown', { what: 'plugin', name, hint: hintFor(name, project.plugins.keys()) })
  return plugin
}

/** Code of the project that may name a hook: other hooks and unit tests. */
export const codeOf = (project: Project): [path: string, text: string][] =>
  [...project.files].filter(([path]) => /^plugins\/[^/]+\/(hooks|tests)\/.*\.ts$/.test(path))

export const counted = (count: number, one: string, more: string): string => `${count} ${count === 1 ? one : more}`
