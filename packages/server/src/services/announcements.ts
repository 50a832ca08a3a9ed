import type { ProjectChange, ProjectEvent } from '@patient-hook/contract'
import type { LiveEngine } from '@patient-hook/core'
import type { Link } from './link.js'

/** Tells pages that are open what has changed of the project, the user who changed it. */
export class Announcements {
  readonly #listeners = new Set<(event: ProjectEvent) => void>()

  constructor(
    private readonly live: LiveEngine,
    private readonly link: Link | null,
  ) {
    live.listen((change) => this.#tell(change))
    if (link) link.onChange = () => this.#tell(null)
  }

  #tell(change: ProjectChange | null): void {
    if (this.#listeners.size === 0) return
    const event = this.#event(change)
    for (const send of this.#listeners) send(event)
  }

  #event(change: ProjectChange | null): ProjectEvent {
    return { revision: this.live.info.revision, change, link: this.link?.state ?? null }
  }

  /** Begins with what is. @returns stops the watching */
  watch(send: (event: ProjectEvent) => void): () => void {
    send(this.#event(null))
    this.#listeners.add(send)
    return () => void this.#listeners.delete(send)
  }
}
