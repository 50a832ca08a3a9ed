import ts from '#typescript'
import { HookError } from '../../errors.js'
import { hookOf, pluginNamed, type Planner } from './change.js'
import { fileOf, settingsOf, withoutSettings, withSettings } from './plugin-json.js'

/** A hook goes to another plugin, with what plugin.json says of it. Modules are a plugin's own, so one that imports some stays. */
export const moveHook: Planner<'move-hook'> = (project, { hook, plugin: to }) => {
  const { plugin, file } = hookOf(project, hook)
  const target = pluginNamed(project, to)
  if (target.name === plugin.name) throw new HookError('code/bad', { detail: `hook ${hook} is in plugin ${to} already` })
  const text = project.files.get(file)!
  const imported = ts.preProcessFile(text, true, true).importedFiles.map(({ fileName }) => fileName)
  const own = imported.filter((name) => name.startsWith('.'))
  if (own.length > 0)
    throw new HookError('code/bad', {
      hook,
      file,
      detail: `hook ${hook} imports ${own.join(', ')} of plugin ${plugin.name}; modules are a plugin's own: take the code along first`,
    })
  const path = `plugins/${to}/hooks/${file.split('/').slice(3).join('/')}`
  const files: Record<string, string | null> = { [file]: null, [path]: text }
  const settings = settingsOf(project, plugin.name, hook)
  if (settings !== undefined) {
    files[fileOf(plugin.name)] = withoutSettings(project.files.get(fileOf(plugin.name))!, hook)
    files[fileOf(to)] = withSettings(project.files.get(fileOf(to))!, hook, settings)
  }
  return {
    files,
    steps: [`${file} becomes ${path}.`, ...(settings === undefined ? [] : ['What plugin.json says of it goes along.'])],
    notices: [`Release ${plugin.name} and ${to} together, so that the hook is never in both nor in none.`],
  }
}
