import { HookError } from '@patient-hook/core/workbench'
import { filesOf } from './project.js'

/** Files that are named; the rest is counted. */
const MOST = 5

/**
 * What is shown where an application continues with its own working copy although the folder that it was started with says otherwise.
 * @param files of the working copy @returns no lines where they are the same, or the folder is no project
 */
export function folderDifferences(files: ReadonlyMap<string, string>, folder: string, data: string): string[] {
  let inFolder: Record<string, string>
  try {
    inFolder = filesOf(folder)
  } catch (error) {
    if (!HookError.is(error)) throw error
    return error.code === 'project/missing-file' ? [] : [`The folder ${folder} cannot be compared: ${error.message}`]
  }
  // Records to begin with are only read by a new database.
  const paths = [...new Set([...files.keys(), ...Object.keys(inFolder)])].filter((path) => !path.startsWith('data/')).sort()
  const differing = paths.filter((path) => files.get(path) !== inFolder[path])
  if (differing.length === 0) return []
  const more = differing.length > MOST ? ` and ${differing.length - MOST} more` : ''
  return [
    `The folder ${folder} differs from the application's own copy of the project: ${differing.slice(0, MOST).join(', ')}${more}`,
    `The application uses its own copy. To use the folder's files: start with --link, or run patient-hook import ${folder} --data ${data};`,
    `--fresh starts over with the folder, and removes all records.`,
  ]
}
