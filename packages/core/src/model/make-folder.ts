import { existsSync, mkdirSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { HookError } from '../errors.js'

/**
 * Makes a folder and those above it. Node's own `recursive` never ends in some places, such as below /proc.
 * @param mode of folders that are made
 * @throws HookError project/unwritable
 */
export function makeFolder(folder: string, mode = 0o777): void {
  const missing: string[] = []
  for (let at = resolve(folder); !existsSync(at) && !missing.includes(at); at = dirname(at)) missing.push(at)
  for (const each of missing.reverse())
    try {
      mkdirSync(each, mode)
    } catch (error) {
      const { code, message } = error as NodeJS.ErrnoException
      // Somebody else may have made it meanwhile.
      if (code !== 'EEXIST') throw new HookError('project/unwritable', { file: each, reason: message })
    }
}
