import { beginTypes, isCode } from '../language/check.js'
import type { Diagnostic } from '../language/service.js'
import { declarations } from '../model/declarations.js'
import type { Project } from '../model/types.js'

/** Errors of types that a change brings: whatever was wrong before is another matter. */
export function newErrors(before: Project, after: Project): Diagnostic[] {
  // Labels and help are comments there: they cannot break code.
  const bare = (project: Project) => declarations(project).replace(/\/\*\*.*?\*\//g, '')
  const sameCode = [...after.files].every(([path, text]) => !isCode(path) || before.files.get(path) === text)
  if (sameCode && bare(before) === bare(after)) return []
  const [old, now] = [beginTypes(before), beginTypes(after)]
  const known = new Set(old().map((each) => `${each.file} ${each.message}`))
  return now().filter((each) => !known.has(`${each.file} ${each.message}`))
}
