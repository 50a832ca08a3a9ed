import { readFileSync, statSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'

/** Git holds `index.lock` while it writes the files of a checkout, merge or rebase. */

/** A lock that old was left behind by a git that was killed; milliseconds. */
const LEFT_BEHIND_MS = 60_000

/** @returns says whether git is changing the files of a folder right now; where the folder is in no repository, never */
export function checkoutUnder(folder: string): () => boolean {
  const lock = lockOf(resolve(folder))
  return () => {
    const stats = lock === null ? undefined : statSync(lock, { throwIfNoEntry: false })
    return stats !== undefined && Date.now() - stats.mtimeMs < LEFT_BEHIND_MS
  }
}

function lockOf(folder: string): string | null {
  const git = join(folder, '.git')
  const stats = statSync(git, { throwIfNoEntry: false })
  if (stats?.isDirectory()) return join(git, 'index.lock')
  // A worktree or a submodule: a file that names the folder.
  if (stats) {
    const [, path] = /^gitdir: (.+)$/m.exec(readFileSync(git, 'utf8')) ?? []
    return path === undefined ? null : join(resolve(folder, path), 'index.lock')
  }
  const above = dirname(folder)
  return above === folder ? null : lockOf(above)
}
