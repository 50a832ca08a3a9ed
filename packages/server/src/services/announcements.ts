import type { ProjectEvent } from '@patient-hook/contract'
import type { LiveEngine } from '@patient-hook/core'
import type { Link } from './link.js'

/** Tells pages that are open what has changed of the project, whoever changed it. */
export class Announcements {
  readonly #listeners = new Set<(event: ProjectEvent) => void>()
  #files: ReadonlyMap<string, string>

  constructor(
    private readonly live: LiveEngine,
    private readonly link: Link | null,
  ) {
    this.#files = live.files
    live.listen(() => this.#tell())
    if (link) link.onChange = () => this.#tell()
  }

  #tell(): void {
    const [before, now] = [this.#files, this.live.files]
    this.#files = now
    const files = [...new Set([...before.keys(), ...now.keys()])].filter((path) => before.get(path) !== now.get(path))
    const event = this.#event(files)
    for (const send of this.#listeners) send(event)
  }

  #event(files: string[]): ProjectEvent {
    return { info: this.live.info, files, link: this.link?.state ?? null }
  }

  /** Begins with what is. @returns stops the watching */
  watch(send: (event: ProjectEvent) => void): () => void {
    send(this.#event([]))
    this.#listeners.add(send)
    return () => void this.#listeners.delete(send)
  }
}
