import type { Files, Inferred, ModelEdit, ModelPlan, TableEdit } from '@patient-hook/contract'
import { inferTable as inferFrom } from '../../model/infer-table.js'
import { JsonFile } from '../../model/json-file.js'
import { editOfSchema } from '../../model/table-edit.js'
import { parseTable } from '../../model/table-file.js'
import { changeModel as change, planModel as plan } from '../model-change.js'
import type { OpenProject } from '../open-project.js'
import { nextVersion } from '../../release/candidate.js'
import { withVersion } from '../../release/composite.js'
import { addRelease, note, releasesIn, setAudience, type Release } from '../../release/release-store.js'
import type { LiveCode } from '../live-code.js'
import { keepFiles, projectChange, type Told } from './project.js'

/** Changes of the model: planned on a copy of the records, done by the live engine; and tables read out of files. */

export function planModel(open: OpenProject, edit: ModelEdit, code: boolean): ModelPlan {
  const { project } = open.runtimes.saved
  return plan(project, open.records(project), edit, (files) => open.runtimes.make(files), code)
}

/** Changes the model and moves the records. @throws HookError with the reason; nothing is changed then */
export function changeModel(open: OpenProject, edit: ModelEdit, accept: boolean, user: string | undefined, token: string): Told {
  let code: LiveCode | null = null
  const runtime = change(open.runtimes.saved.project, open.live, edit, (files) => open.runtimes.make(files), {
    accept,
    user,
    keep: (files, releases, working) => {
      keepFiles(open, files, token)
      for (const each of releases) if (each.files) releaseAgain(open, each.release, each.files, user)
      code = open.codeNow(working)
      return code
    },
  })
  open.runtimes.use(runtime)
  open.code = code
  return projectChange(open)
}

/** The same release with the new names of fields in its code, to its audience. */
function releaseAgain(open: OpenProject, release: Release, files: Files, user = 'owner'): void {
  const { plugin, audience } = release
  const own = releasesIn(open.live, plugin)
  const version = nextVersion(own, null, 'patch')
  addRelease(open.live, {
    ...release,
    version,
    user,
    note: `${release.version} with the new names of fields.`,
    files: withVersion(files, plugin, version),
  })
  if (audience !== null) setAudience(open.live, release.id, [])
  note(open.live, {
    user,
    plugin,
    version,
    hook: null,
    what: 'renamed with the model',
    detail: `${release.version} with the new names of fields`,
  })
}

/** A table from a CSV file, to be corrected. */
export function inferTable(open: OpenProject, name: string, file: string, text: string): Inferred {
  const { project } = open.runtimes.saved
  return inferFrom(name, file, text, (table) =>
    project.tables.has(table) ? new Set(open.records(project).values(`SELECT "id" FROM "${table}"`) as number[]) : null,
  )
}

/** A table from a JSON Schema, to be looked at. @throws HookError naming the path within it */
export function readSchema(_: OpenProject, name: string, text: string): TableEdit {
  const file = `${name}.json`
  return { ...editOfSchema(parseTable(file, text), new JsonFile(file, text).value as object), name }
}
