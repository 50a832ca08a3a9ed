import { isUtf8 } from 'node:buffer'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { belongsToProject } from '@patient-hook/contract/paths'
import { HookError } from '../errors.js'
import { encodingProblem } from '../formats/encoding.js'

/** A project on disk: which files belong to it, read and written byte for byte. */

/** @throws HookError where the folder or its project.json is missing */
export function readFolder(folder: string): Map<string, string> {
  if (!existsSync(join(folder, 'project.json')))
    throw new HookError('project/missing-file', { file: join(folder, 'project.json') })
  const files = new Map<string, string>()
  const walk = (path: string) => {
    for (const name of readdirSync(join(folder, path)).sort()) {
      const below = path === '' ? name : `${path}/${name}`
      if (name === 'node_modules' || name.startsWith('.')) continue
      if (statSync(join(folder, below)).isDirectory()) walk(below)
      else if (belongsToProject(below)) files.set(below, readText(folder, below))
    }
  }
  try {
    walk('')
  } catch (error) {
    if (HookError.is(error)) throw error
    const { path = folder, message } = error as NodeJS.ErrnoException
    throw new HookError('project/unreadable', { file: path, reason: message })
  }
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
  for (const [path, text] of files) {
    const target = join(folder, path)
    if (existsSync(target) && readFileSync(target, 'utf8') === text) continue
    mkdirSync(dirname(target), { recursive: true })
    writeFileSync(target, text)
  }
}
