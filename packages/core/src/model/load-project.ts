import { readFolder } from './folder.js'
import { parseProject } from './project.js'
import type { Project } from './types.js'

/** Reads and checks a project folder. @throws HookError naming file and path within it */
export function loadProject(folder: string): Project {
  return parseProject(readFolder(folder))
}
