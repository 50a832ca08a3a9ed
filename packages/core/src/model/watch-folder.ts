import { relative, resolve, sep } from 'node:path'
import { belongsToProject } from '@patient-hook/contract/paths'
import { readFolder } from './folder.js'
import { checkoutUnder } from './git-checkout.js'

type Files = ReadonlyMap<string, string>

/** Calls again whenever files of a project folder have changed, until the process is reported to end, or who watches has enough. */

/** Editors write several files at once: what comes within this time is one change; milliseconds. */
const TOGETHER_MS = 30
/** chokidar tells of one file at most once in 50 ms: what is written within that time is found by another look; milliseconds. */
const AGAIN_MS = 120

/**
 * @param work is given the files as they are now, and the paths that differ from the time before; a change that comes while it works is
 *   told when it is done. What it throws ends the watching.
 * @param failed is shown why the files could not be read; the watching goes on
 * @param until ends the watching; default: the process's own end
 */
export async function watchFolder(
  folder: string,
  before: Files,
  failed: (error: unknown) => void,
  work: (files: Files, changed: string[]) => Promise<void>,
  until?: AbortSignal,
): Promise<void> {
  const root = resolve(folder)
  const isHidden = (path: string) =>
    relative(root, path)
      .split(sep)
      .some((part) => part === 'node_modules' || part.startsWith('.'))
  // Loaded by who watches only.
  const { watch } = await import('chokidar')
  const watcher = watch(root, { ignoreInitial: true, ignored: isHidden })
  let known = before
  const timers = new Set<NodeJS.Timeout>()
  const isCheckingOut = checkoutUnder(root)
  let working = false
  let again = false
  await new Promise<void>((done, fail) => {
    const stop = () => done()
    if (until) until.addEventListener('abort', stop)
    else {
      process.once('SIGINT', stop)
      process.once('SIGTERM', stop)
    }
    const look = async (): Promise<void> => {
      // Half of a checkout is no state of the project.
      if (isCheckingOut()) return lookIn(AGAIN_MS)
      if (working) {
        again = true
        return
      }
      working = true
      try {
        do {
          again = false
          const files = read()
          const changed = files ? differences(known, files) : []
          if (!files || changed.length === 0) continue
          known = files
          await work(files, changed)
        } while (again)
      } catch (error) {
        fail(error as Error)
      } finally {
        working = false
      }
    }
    const lookIn = (...waits: number[]): void => {
      for (const timer of timers) clearTimeout(timer)
      timers.clear()
      for (const ms of waits) timers.add(setTimeout(() => void look(), ms))
    }
    const read = (): Files | null => {
      try {
        return readFolder(root)
      } catch (error) {
        failed(error)
        return null
      }
    }
    watcher.on('all', (_, path) => {
      if (!belongsToProject(relative(root, path).split(sep).join('/'))) return
      lookIn(TOGETHER_MS, AGAIN_MS)
    })
    watcher.on('error', fail)
    // Between the first reading and now, something may have changed.
    watcher.on('ready', () => void look())
  }).finally(() => {
    for (const timer of timers) clearTimeout(timer)
    return watcher.close()
  })
}

function differences(before: Files, now: Files): string[] {
  return [...new Set([...before.keys(), ...now.keys()])].filter((path) => before.get(path) !== now.get(path)).sort()
}
