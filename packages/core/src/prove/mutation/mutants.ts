import { definitionOf } from '../../findings/uses.js'
import { mistakeName } from '@patient-hook/contract/words'
import { HookError } from '../../errors.js'
import { hintFor } from '../../model/names.js'
import type { Project } from '../../model/types.js'
import { MUTATIONS } from './mutations/index.js'
import { treeOf } from '../../syntax-tree.js'

/** A hook with one mutation. */
export interface Mutant {
  hook: string
  file: string
  line: number
  kind: string
  from: string
  to: string
  /** The whole file with the mistake. */
  text: string
}

/** Every mutant of a hook, in the order of the kinds; none twice. */
export function mutantsOf(project: Project, hook: { name: string; file: string; table: string }): Mutant[] {
  const text = project.files.get(hook.file)
  const table = project.tables.get(hook.table)
  if (text === undefined || !table) return []
  const source = treeOf(hook.file, text)
  const literal = definitionOf(source)
  if (!literal) return []
  const seen = new Set<string>([text])
  const mutants: Mutant[] = []
  for (const mutation of MUTATIONS)
    for (const change of mutation.changes({ source, literal, table, project })) {
      const { start, end, text: to, also = [] } = change
      const mutated = [change, ...also]
        .sort((a, b) => b.start - a.start)
        .reduce((done, each) => done.slice(0, each.start) + each.text + done.slice(each.end), text)
      if (seen.has(mutated)) continue
      seen.add(mutated)
      mutants.push({
        hook: hook.name,
        file: hook.file,
        line: source.getLineAndCharacterOfPosition(start).line + 1,
        kind: mutation.kind,
        from: text.slice(start, end),
        to,
        text: mutated,
      })
    }
  return mutants
}

/** Mistakes of a hook that no test need notice, each with the reason. @throws HookError for one that cannot be made in it */
export function missesOf(
  project: Project,
  hook: { name: string; file: string; table: string; plugin: string },
): Readonly<Record<string, string>> {
  const misses = project.plugins.get(hook.plugin)?.hooks.find(({ name }) => name === hook.name)?.misses ?? {}
  const names = Object.keys(misses)
  if (names.length === 0) return misses
  const possible = mutantsOf(project, hook).map(mistakeName)
  const unknown = names.find((name) => !possible.includes(name))
  if (unknown !== undefined)
    throw new HookError('project/bad-file', {
      file: `plugins/${hook.plugin}/plugin.json`,
      path: `/hooks/${hook.name}/misses`,
      detail: `there is no mistake ${JSON.stringify(unknown)} in the hook's code${hintFor(unknown, possible)}`,
    })
  return misses
}
