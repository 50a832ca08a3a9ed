import type { Files } from '@patient-hook/contract'
import { describeAll, HookError } from '../errors.js'
import { renameFieldInCode } from '../language/rename-field.js'
import { parseProject } from '../model/project.js'
import type { Project, Table } from '../model/types.js'
import { releasesFor } from '../release/audience.js'
import { baseOf, compose, filesOfPlugin, sameText } from '../release/composite.js'
import type { Release } from '../release/release-store.js'
import { makeRuntime } from './runtime.js'
import { newErrors } from './new-errors.js'

/** What a change of the model does to the releases that somebody gets. */

export interface ReleaseAfter {
  release: Release
  /** Its text with the new names of fields; null where it does not change. */
  files: Files | null
  /** Why it could not be loaded any more. */
  faults: string[]
  /** Errors of types that it would have. */
  breaks: string[]
}

export interface ModelStep {
  /** The working copy. */
  before: Project
  after: Project
  table: Table | null
  /** Old name to new name. */
  renames: Readonly<Record<string, string>>
}

/** @param code look for errors of types as well, which takes longer */
export function releasesAfter(step: ModelStep, releases: readonly Release[], code: boolean): ReleaseAfter[] {
  return releases.map((release) => after(step, releases, release, code))
}

function after(
  { before, after, table, renames }: ModelStep,
  releases: readonly Release[],
  release: Release,
  code: boolean,
): ReleaseAfter {
  const { plugin, audience } = release
  // Where the working copy is what is live, its change has been looked at already.
  if (sameText(filesOfPlugin(before.files, plugin), release.files, plugin)) {
    const files = filesOfPlugin(after.files, plugin)
    return { release, files: sameText(files, release.files, plugin) ? null : files, faults: [], breaks: [] }
  }
  const among = new Map([...releasesFor(releases, audience?.[0] ?? ''), [plugin, release]])
  const old = parseProject(compose(baseOf(before.files, false), among.values()), before)
  let files = old.files
  if (table)
    for (const [name, next] of Object.entries(renames))
      files = new Map([...files, ...renameFieldInCode({ ...old, files }, table, name, next)])
  const text = filesOfPlugin(files, plugin)
  const changed = sameText(text, release.files, plugin) ? null : text
  // The other plugins' texts are looked at as what they are themselves.
  const others = [...among].map(([name, each]) => ({ files: name === plugin ? text : filesOfPlugin(files, each.plugin) }))
  try {
    const project = parseProject(compose(baseOf(after.files, false), others), after)
    makeRuntime(project.files, { project })
    const errors = code ? newErrors(old, project).filter(({ file }) => file.startsWith(`plugins/${plugin}/`)) : []
    return {
      release,
      files: changed,
      faults: [],
      breaks: errors.map(({ file, line, message }) => `${file}, line ${line}: ${message}`),
    }
  } catch (error) {
    if (!HookError.is(error)) throw error
    return { release, files: changed, faults: describeAll(error.report), breaks: [] }
  }
}

export const nameOf = ({ plugin, version, audience }: Release): string =>
  `${plugin} ${version} (${audience === null ? 'live' : `piloted by ${audience.join(', ')}`})`
