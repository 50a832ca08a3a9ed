import { isUtf8 } from 'node:buffer'
import { existsSync, lstatSync, readdirSync, readFileSync, realpathSync, statSync, writeFileSync } from 'node:fs'
import { dirname, join, sep } from 'node:path'
import { belongsToProject } from '@patient-hook/contract/paths'
import { HookError } from '../errors.js'
import { encodingProblem } from '../formats/encoding.js'
import { Faults } from './faults.js'
import { makeFolder } from './make-folder.js'
import { misplaced } from './misplaced.js'

/** A project on disk: which files belong to it, read and written byte for byte. */

/**
 * A path of the project leads to where it says, also where a part of it is a symbolic link.
 * @throws HookError project/outside where it leads out of the folder
 */
export function checkInside(folder: string, path: string): void {
  let at = join(folder, path)
  while (!existsSync(at)) at = dirname(at)
  const [root, target] = [realpathSync(folder), realpathSync(at)]
  if (target !== root && !target.startsWith(root + sep)) throw new HookError('project/outside', { file: path })
}

/** @throws HookError where the folder or its project.json is missing, or a file of it leads out of it, or stands where nothing reads it */
export function readFolder(folder: string): Map<string, string> {
  if (!existsSync(join(folder, 'project.json')))
    throw new HookError('project/missing-file', { file: join(folder, 'project.json') })
  const files = new Map<string, string>()
  const walked = new Set<string>()
  const faults = new Faults()
  const walk = (path: string) => {
    const real = realpathSync(join(folder, path))
    // A link to a folder above it would never end.
    if (walked.has(real)) return
    walked.add(real)
    for (const name of readdirSync(join(folder, path)).sort()) {
      const below = path === '' ? name : `${path}/${name}`
      if (name === 'node_modules' || name.startsWith('.')) continue
      if (lstatSync(join(folder, below)).isSymbolicLink()) checkInside(folder, below)
      if (statSync(join(folder, below)).isDirectory()) walk(below)
      else if (belongsToProject(below)) files.set(below, readText(folder, below))
      else {
        const where = misplaced(below)
        if (where !== null) faults.note(new HookError('project/misplaced', { file: below, where }))
      }
    }
  }
  try {
    walk('')
  } catch (error) {
    if (HookError.is(error)) throw error
    const { path = folder, message } = error as NodeJS.ErrnoException
    throw new HookError('project/unreadable', { file: path, reason: message })
  }
  faults.throwIfAny()
  return files
}

/** @throws HookError where the file is no UTF-8: with the byte, since it would be altered without a word */
function readText(folder: string, path: string): string {
  const bytes = readFileSync(join(folder, path))
  const problem = encodingProblem(bytes, isUtf8)
  if (problem !== null) throw new HookError('project/bad-encoding', { file: path, reason: problem })
  return bytes.toString('utf8')
}

/** Writes the files, and touches none whose text is the same already. */
export function writeFolder(folder: string, files: ReadonlyMap<string, string>): void {
  makeFolder(folder)
  for (const [path, text] of files) {
    const target = join(folder, path)
    checkInside(folder, path)
    if (existsSync(target) && readFileSync(target, 'utf8') === text) continue
    makeFolder(dirname(target))
    writeFileSync(target, text)
  }
}
