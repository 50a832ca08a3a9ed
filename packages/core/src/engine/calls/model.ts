import type { Files, Inferred, ModelEdit, ModelPlan, ProjectInfo, TableEdit } from '@patient-hook/contract'
import { inferTable as inferFrom } from '../../model/infer-table.js'
import { JsonFile } from '../../model/json-file.js'
import { editOfSchema } from '../../model/table-edit.js'
import { parseTable } from '../../model/table-file.js'
import { changeModel as change, planModel as plan } from '../model-change.js'
import type { OpenProject } from '../open-project.js'
import { allFiles, keepFiles, projectInfo } from './project.js'

/** Changes of the model: planned on a copy of the records, done by the live engine; and tables read out of files. */

export function planModel(open: OpenProject, edit: ModelEdit, code: boolean): ModelPlan {
  const { project } = open.runtimes.saved
  return plan(project, open.records(project), edit, (files) => open.runtimes.make(files), code)
}

/** Changes the model and moves the records. @throws HookError with the reason; nothing is changed then */
export function changeModel(
  open: OpenProject,
  edit: ModelEdit,
  accept: boolean,
  user: string | undefined,
  token: string,
): { info: ProjectInfo; files: Files } {
  const runtime = change(open.runtimes.saved.project, open.live, edit, (files) => open.runtimes.make(files), {
    accept,
    user,
    putFiles: (files) => keepFiles(open, files, token),
  })
  open.runtimes.use(runtime)
  return { info: projectInfo(open), files: allFiles(open) }
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
