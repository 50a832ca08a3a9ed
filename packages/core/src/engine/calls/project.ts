import type { ProjectChange, ProjectInfo } from '@patient-hook/contract'
import { changeOf } from '@patient-hook/contract/project-change'
import { textRevision } from '@patient-hook/contract/text-revision'
import { HookError } from '../../errors.js'
import { withChanges } from '../../model/files.js'
import { checkRecords, recordFolders } from '../../model/record-checks.js'
import { declarations as declarationsOf } from '../../model/declarations.js'
import { takeCompiled, type CompiledAhead } from './compiling.js'
import type { OpenProject } from '../open-project.js'
import { projectInfo as infoOf } from '../project-info.js'

/** What is reported about the project, and its files. */

/** What the caller knows of the project from now on: all of it. */
export function projectInfo(open: OpenProject): ProjectInfo {
  const { project } = open.runtimes.saved
  const info = infoOf(open.runtimes.saved)
  open.told = { info, files: project.files }
  return info
}

export interface Told {
  change: ProjectChange
  /** The files that are others than before; null for one that went. */
  files: Record<string, string | null>
}

/** What the caller does not know of the project yet. */
export function projectChange(open: OpenProject): Told {
  const before = open.told ?? { info: infoOf(open.runtimes.saved), files: new Map<string, string>() }
  const now = projectInfo(open)
  const files = open.runtimes.files
  const differ = [...new Set([...before.files.keys(), ...files.keys()])].filter(
    (path) => before.files.get(path) !== files.get(path),
  )
  return {
    change: changeOf(before.info, now, differ),
    files: Object.fromEntries(differ.map((path) => [path, files.get(path) ?? null])),
  }
}

export const declarations = (open: OpenProject): string => declarationsOf(open.runtimes.saved.project)

/**
 * Keeps files of the working copy; null removes one. Nothing is kept when one is wrong. What runs on saves are releases.
 * @param token names the call, so it can be found out whether it was carried out
 * @param ahead what another engine compiled of them
 * @param from the revisions of the texts that edits began with, of files that are only to be saved over these
 * @throws HookError with everything that is wrong
 */
export function putFiles(
  open: OpenProject,
  changed: Record<string, string | null>,
  token: string,
  ahead: CompiledAhead | null = null,
  from: Readonly<Record<string, string | null>> = {},
): Told {
  checkRevisions(open.runtimes.files, from)
  if (ahead) takeCompiled(ahead)
  const { files } = open.runtimes
  for (const [path, text] of Object.entries(changed))
    if (text === null && !files.has(path)) throw new HookError('project/missing-file', { file: path })
  const runtime = open.runtimes.make(withChanges(files, changed), { changed })
  // The model is for all releases: what is in project.json holds at once.
  const code = open.codeNow(runtime)
  checkRecords(runtime.project, recordFolders(runtime.project, Object.keys(changed)))
  open.live.transaction(() => {
    keepFiles(open, new Map(Object.entries(changed)), token)
    return { value: undefined, keep: true }
  })
  open.runtimes.use(runtime)
  open.code = code
  return projectChange(open)
}

/** @throws HookError project/changed */
function checkRevisions(files: ReadonlyMap<string, string>, from: Readonly<Record<string, string | null>>): void {
  for (const [file, revision] of Object.entries(from)) {
    const text = files.get(file)
    if (revision !== (text === undefined ? null : textRevision(text))) throw new HookError('project/changed', { file })
  }
}

/** Within a transaction. */
export function keepFiles(open: OpenProject, files: ReadonlyMap<string, string | null>, token: string): void {
  const store = open.live
  for (const [path, text] of files)
    if (text === null) store.run('DELETE FROM ph_file WHERE path = ?', path)
    else
      store.run(
        'INSERT INTO ph_file (path, text) VALUES (?, ?) ON CONFLICT (path) DO UPDATE SET text = excluded.text',
        path,
        text,
      )
  store.run(`INSERT INTO ph_meta (key, value) VALUES ('call', ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value`, token)
}
