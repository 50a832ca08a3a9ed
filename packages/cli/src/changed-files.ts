import { execFileSync } from 'node:child_process'
import { resolve } from 'node:path'
import { usage } from './output.js'

/** A large checkout on a slow disk takes seconds. */
const LONGEST_MS = 60_000

/** Files of a project folder that differ from a commit of git, new ones among them. @throws HookError where git cannot say */
export function changedFiles(folder: string, commit: string): string[] {
  const git = (...words: string[]): string[] => {
    try {
      const told = execFileSync('git', words, {
        cwd: resolve(folder),
        encoding: 'utf8',
        stdio: ['ignore', 'pipe', 'pipe'],
        timeout: LONGEST_MS,
        killSignal: 'SIGKILL',
      })
      return told.split('\0').filter((path) => path !== '')
    } catch (error) {
      const { stderr, code } = error as { stderr?: string; code?: string }
      const reason =
        code === 'ENOENT'
          ? 'git is not installed'
          : code === 'ETIMEDOUT'
            ? `it did not answer within ${LONGEST_MS / 1000} seconds`
            : (stderr ?? '').trim().split('\n')[0]
      throw usage(`--changed ${commit}: git cannot say what changed: ${reason}`)
    }
  }
  // Paths are reported from the folder, and of what lies in it.
  const tracked = git('diff', '--name-only', '--relative', '-z', commit, '--', '.')
  const fresh = git('ls-files', '--others', '--exclude-standard', '-z', '--', '.')
  return [...new Set([...tracked, ...fresh])].sort()
}
