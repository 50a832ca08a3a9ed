import type { CodeChange, CodeChangeKind } from '@patient-hook/contract'
import type { Project } from '../../model/types.js'
import type { PlannedChange, Planner } from './change.js'
import { makeFile, removeFile, removeFixtures } from './files.js'
import { moveHook } from './move-hook.js'
import { makePlugin, removePlugin, renamePlugin } from './plugins.js'
import { removeHook } from './remove-hook.js'
import { renameHook } from './rename-hook.js'

/** By kind. A new kind gets its own file, added here and to the contract. */
const PLANNERS: { [K in CodeChangeKind]: Planner<K> } = {
  'rename-hook': renameHook,
  'move-hook': moveHook,
  'remove-hook': removeHook,
  'make-plugin': makePlugin,
  'rename-plugin': renamePlugin,
  'remove-plugin': removePlugin,
  'make-file': makeFile,
  'remove-file': removeFile,
  'remove-fixtures': removeFixtures,
}

/** @throws HookError code/unknown, code/taken or code/bad */
export const planCodeChange = (project: Project, change: CodeChange): PlannedChange =>
  (PLANNERS[change.kind] as Planner<CodeChangeKind>)(project, change)
