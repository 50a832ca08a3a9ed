import { HookError } from '../../errors.js'
import { codeOf, counted, hookOf, type Planner } from './change.js'
import { namesOfHook, renamedIn } from './names-in-code.js'
import { fileOf, settingsOf, withoutSettings, withSettings } from './plugin-json.js'

/** A hook gets another name: its file, what plugin.json says of it, `after` of other hooks, and unit tests that name it. */
export const renameHook: Planner<'rename-hook'> = (project, { hook, name }) => {
  const { plugin, file } = hookOf(project, hook)
  if ([...project.plugins.values()].some(({ hooks }) => hooks.some((each) => each.name === name)))
    throw new HookError('code/taken', { what: 'hook', name })
  const files: Record<string, string | null> = {}
  const named: string[] = []
  for (const [path, text] of codeOf(project)) {
    if (namesOfHook(path, text, hook).length === 0) continue
    files[path] = renamedIn(path, text, hook, name)
    named.push(path)
  }
  const target = file.replace(/[^/]+$/, `${name}.ts`)
  files[target] = files[file] ?? project.files.get(file)!
  files[file] = null
  const settings = settingsOf(project, plugin.name, hook)
  const json = project.files.get(fileOf(plugin.name))!
  if (settings !== undefined) files[fileOf(plugin.name)] = withSettings(withoutSettings(json, hook), name, settings)
  const steps = [`${file} becomes ${target}.`]
  if (named.length > 0) steps.push(`${counted(named.length, 'file names', 'files name')} it again: ${named.join(', ')}.`)
  if (settings !== undefined) steps.push(`What plugin.json says of it goes along.`)
  return { files, steps, notices: otherMentions(project.files, files, hook) }
}

/** Files that have the name in another way, in a text or a comment. */
export function otherMentions(
  before: ReadonlyMap<string, string>,
  changed: Readonly<Record<string, string | null>>,
  name: string,
): string[] {
  const word = new RegExp(`(^|[^\\w-])${name}($|[^\\w-])`)
  return [...before]
    .filter(([path]) => path.startsWith('plugins/') && changed[path] !== null)
    .filter(([path, text]) => word.test(changed[path] ?? text))
    .map(([path]) => `${path} mentions ${name} in a way that is not changed: look whether it should be.`)
}
