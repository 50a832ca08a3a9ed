import { randomUUID } from 'node:crypto'
import type { Files, ProjectInfo } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { fieldsOf } from '../../findings/hook-fields.js'
import { withChanges } from '../../model/files.js'
import { checkRecords, recordFolders } from '../../model/record-checks.js'
import { declarations as declarationsOf } from '../../model/declarations.js'
import type { OpenProject } from '../open-project.js'

/** The project as the interface sees it, and its files. */

export function projectInfo(open: OpenProject): ProjectInfo {
  const { project, program } = open.runtimes.saved
  const order = [...project.tables.keys()].flatMap((table) =>
    (['before-save', 'after-save', 'before-commit'] as const).flatMap((moment) => program.at(table, moment)),
  )
  return {
    revision: randomUUID(),
    name: project.name,
    title: project.title,
    users: [...project.users],
    tables: [...project.tables.values()],
    plugins: [...project.plugins.values()].map(({ name, version, description, tests, lib }) => ({
      name,
      version,
      description,
      tests: [...tests],
      lib: [...lib],
    })),
    hooks: order.map((hook) => ({
      ...fieldsOf(hook.file, project.files.get(hook.file) ?? '', hook.table),
      name: hook.name,
      plugin: hook.plugin,
      file: hook.file,
      table: hook.table,
      moment: hook.moment,
      on: [...hook.on],
      watch: [...(hook.watch ?? [])],
      after: [...hook.after],
      parts: [...hook.parts.keys()].filter((part) => part !== ''),
      state: hook.state,
    })),
    fixtures: [...project.fixtures].map(([name, tables]) => ({
      name,
      tables: Object.fromEntries([...tables].map(([table, rows]) => [table, rows.length])),
    })),
    sequences: [...project.sequences.keys()],
    batchSize: project.batchSize,
  }
}

export const declarations = (open: OpenProject): string => declarationsOf(open.runtimes.saved.project)

/**
 * Keeps files of the working copy; null removes one. Nothing is kept when one is wrong. What runs on saves are releases.
 * @param token names the call, so that it can be found out whether it was carried out
 * @throws HookError with everything that is wrong
 */
export function putFiles(open: OpenProject, changed: Record<string, string | null>, token: string): { info: ProjectInfo } {
  const { files } = open.runtimes
  for (const [path, text] of Object.entries(changed))
    if (text === null && !files.has(path)) throw new HookError('project/missing-file', { file: path })
  const runtime = open.runtimes.make(withChanges(files, changed), { changed })
  // The model is for all releases: what stands in project.json holds at once.
  const code = open.codeNow(runtime)
  checkRecords(runtime.project, recordFolders(runtime.project, Object.keys(changed)))
  open.live.transaction(() => {
    keepFiles(open, new Map(Object.entries(changed)), token)
    return { value: undefined, keep: true }
  })
  open.runtimes.use(runtime)
  open.code = code
  return { info: projectInfo(open) }
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

export const allFiles = (open: OpenProject): Files => Object.fromEntries(open.runtimes.files)
