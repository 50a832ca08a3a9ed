import { codeOf, counted, hookOf, type Planner } from './change.js'
import { namesOfHook, takenOutOf } from './names-in-code.js'
import { fileOf, withoutSettings } from './plugin-json.js'
import { otherMentions } from './rename-hook.js'

/** A hook goes: its file, what plugin.json says of it, and its name in `after` of other hooks. Unit tests of it are reported, not removed. */
export const removeHook: Planner<'remove-hook'> = (project, { hook }) => {
  const { plugin, file } = hookOf(project, hook)
  const files: Record<string, string | null> = {}
  const unordered: string[] = []
  for (const [path, text] of codeOf(project)) {
    if (path === file || path.endsWith('.test.ts') || namesOfHook(path, text, hook).length === 0) continue
    files[path] = takenOutOf(path, text, hook)
    unordered.push(path)
  }
  files[file] = null
  const json = project.files.get(fileOf(plugin.name))!
  const without = withoutSettings(json, hook)
  if (without !== json) files[fileOf(plugin.name)] = without
  const steps = [`${file} goes.`]
  if (unordered.length > 0)
    steps.push(`${counted(unordered.length, 'hook does', 'hooks do')} not run after it any more: ${unordered.join(', ')}.`)
  return { files, steps, notices: otherMentions(project.files, files, hook) }
}
