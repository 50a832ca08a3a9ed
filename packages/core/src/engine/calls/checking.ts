import { findInTables } from '../../findings/tables/index.js'
import { findIn } from '../../findings/run.js'
import type { Finding } from '../../findings/types.js'
import { checkRecords, recordFolders } from '../../model/record-checks.js'
import { beginTypes } from '../../language/check.js'
import type { Diagnostic } from '../../language/service.js'
import type { OpenProject } from '../open-project.js'

/** Everything that can be said of a project without running a save. */

export interface Checked {
  diagnostics: Diagnostic[]
  findings: Finding[]
  tables: number
  hooks: number
}

/** @throws HookError where hooks cannot be loaded, if neither types nor findings say so with more to go by */
export function check(open: OpenProject, files: Record<string, string>): Checked {
  const project = open.runtimes.parse(new Map(Object.entries(files)))
  checkRecords(project, recordFolders(project))
  const types = beginTypes(project)
  const findings = [...findInTables(project), ...findIn(project)]
  const failure = findings.length === 0 ? failureOf(() => open.runtimes.make(project.files)) : null
  const diagnostics = types()
  if (failure && diagnostics.length === 0) throw failure.reason
  const hooks = [...project.plugins.values()].reduce((sum, plugin) => sum + plugin.hooks.length, 0)
  return { diagnostics, findings, tables: project.tables.size, hooks }
}

/** What the work ends with, where it does not come to its end. */
function failureOf(work: () => unknown): { reason: unknown } | null {
  try {
    work()
    return null
  } catch (reason) {
    return { reason }
  }
}
