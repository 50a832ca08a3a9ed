import type { ProjectChange } from '@patient-hook/contract'
import type { LiveEngine } from '@patient-hook/core'

/** How many changes are remembered: anyone who is further behind asks for everything. */
const MOST = 200

/** The last changes of the project, for anyone who knows one of its revisions. */
export class Revisions {
  /** By the revision that it begins with, in the order they came. */
  readonly #changes = new Map<string, Pick<ProjectChange, 'revision' | 'files'>>()

  constructor(private readonly live: LiveEngine) {
    live.listen((change) => {
      if (!change) return this.#changes.clear()
      this.#changes.set(change.since, { revision: change.revision, files: change.files })
      if (this.#changes.size > MOST) this.#changes.delete(this.#changes.keys().next().value!)
    })
  }

  /** Files that are others than they were in a revision, new and gone ones too; null where that is not known any more. */
  filesSince(revision: string): ReadonlySet<string> | null {
    const files = new Set<string>()
    for (let at = revision; at !== this.live.info.revision;) {
      const change = this.#changes.get(at)
      if (!change) return null
      for (const file of change.files) files.add(file)
      at = change.revision
    }
    return files
  }
}
