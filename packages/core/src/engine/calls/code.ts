import type { CodeChange, CodePlan, Files } from '@patient-hook/contract'
import { textRevision } from '@patient-hook/contract/text-revision'
import { planCodeChange } from '../code-changes/index.js'
import type { OpenProject } from '../open-project.js'

/** What a change of a hook's or plugin's name or place does to which files, as edited. @throws HookError code/… */
export function planCode(open: OpenProject, change: CodeChange, drafts?: Files): CodePlan {
  const plan = planCodeChange(open.runtimes.projectWith(drafts), change)
  const saved = open.runtimes.files
  const from = Object.keys(plan.files).map((path) => [path, saved.has(path) ? textRevision(saved.get(path)!) : null] as const)
  return { ...plan, from: Object.fromEntries(from) }
}
