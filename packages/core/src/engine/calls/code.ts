import type { CodeChange, CodePlan, Files } from '@patient-hook/contract'
import { planCodeChange } from '../code-changes/index.js'
import type { OpenProject } from '../open-project.js'

/** What a change of a hook's or plugin's name or place does to which files, as edited. @throws HookError code/… */
export const planCode = (open: OpenProject, change: CodeChange, drafts?: Files): CodePlan =>
  planCodeChange(open.runtimes.projectWith(drafts), change)
