import { HookError } from '../../errors.js'
import type { Project } from '../../model/types.js'
import { filesOfPlugin } from '../../release/composite.js'
import { counted, pluginNamed, type Planner } from './change.js'
import { fileOf, withName } from './plugin-json.js'

/** Plugins are made, get another name, and go. */

function checkFree(project: Project, name: string): void {
  if (project.plugins.has(name)) throw new HookError('code/taken', { what: 'plugin', name })
}

export const makePlugin: Planner<'make-plugin'> = (project, { plugin, description }) => {
  checkFree(project, plugin)
  const json = { name: plugin, version: '0.1.0', ...(description === '' ? {} : { description }) }
  return { files: { [fileOf(plugin)]: `${JSON.stringify(json, null, 2)}\n` }, steps: [`${fileOf(plugin)} is made.`], notices: [] }
}

export const renamePlugin: Planner<'rename-plugin'> = (project, { plugin, name }) => {
  pluginNamed(project, plugin)
  checkFree(project, name)
  const files: Record<string, string | null> = {}
  for (const [path, text] of Object.entries(filesOfPlugin(project.files, plugin))) {
    files[path] = null
    const target = path.replace(`plugins/${plugin}/`, `plugins/${name}/`)
    files[target] = path === fileOf(plugin) ? withName(text, name) : text
  }
  return {
    files,
    steps: [`${counted(Object.keys(files).length / 2, 'file goes', 'files go')} from plugins/${plugin} to plugins/${name}.`],
    notices: [`Release ${plugin} and ${name} together, so that its hooks are never in both nor in none.`],
  }
}

export const removePlugin: Planner<'remove-plugin'> = (project, { plugin }) => {
  const { hooks } = pluginNamed(project, plugin)
  const own = Object.keys(filesOfPlugin(project.files, plugin))
  const names = hooks.map(({ name }) => name)
  const others = [...project.plugins.values()].filter(({ name }) => name !== plugin)
  for (const { hooks: theirs } of others)
    for (const { name, file } of theirs) {
      const named = names.find((hook) => new RegExp(`after:[^\\]]*['"]${hook}['"]`).test(project.files.get(file) ?? ''))
      if (named)
        throw new HookError('code/bad', {
          hook: name,
          file,
          detail: `hook ${name} runs after ${named} of plugin ${plugin}: let it not, first`,
        })
    }
  return {
    files: Object.fromEntries(own.map((path) => [path, null])),
    steps: [`${counted(own.length, 'file goes', 'files go')}, with ${counted(hooks.length, 'hook', 'hooks')}.`],
    notices: ['Its hooks run on saves until that is released.'],
  }
}
