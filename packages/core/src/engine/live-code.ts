import type { Project } from '../model/types.js'
import { parseProject } from '../model/project.js'
import { releasesFor } from '../release/audience.js'
import { baseOf, compose, stampOf, withoutRecords } from '../release/composite.js'
import type { Release } from '../release/release-store.js'
import type { Switches } from '../release/switches.js'
import { makeRuntime, type Runtime } from './runtime.js'

/**
 * What runs on saves: for each user the releases that they get. A save takes one runtime and ends on it; a release, a step back or a
 * switch makes another LiveCode, which the next save takes.
 */
export class LiveCode {
  /** By user; all others get what no pilot gets. */
  readonly #byUser = new Map<string, Runtime>()
  readonly #everyones: Runtime
  /** By what it is made of, to be taken over by the next. */
  readonly #made = new Map<string, Runtime>()

  /**
   * @param working the working copy: where it is what runs, it is made once
   * @param like what ran before, of which is taken over what is the same
   * @throws HookError where a release cannot be loaded with the model as it is
   */
  constructor(
    working: { project: Project; runtime: Runtime | null },
    readonly releases: readonly Release[],
    readonly switches: Switches,
    like: LiveCode | null = null,
  ) {
    const base = baseOf(working.project.files, false)
    const workingStamp = stampOf(withoutRecords(working.project.files, false))
    const before = like ? like.#made : null
    const make = (chosen: Iterable<Release>): Runtime => {
      const files = compose(base, chosen)
      const stamp = stampOf(files)
      const runtime =
        this.#made.get(stamp) ??
        (working.runtime && stamp === workingStamp ? working.runtime : null) ??
        before?.get(stamp) ??
        makeRuntime(files, { project: parseProject(files, working.project) })
      this.#made.set(stamp, runtime)
      return runtime
    }
    this.#everyones = make(releasesFor(releases, '').values())
    for (const user of new Set(releases.flatMap(({ audience }) => audience ?? [])))
      this.#byUser.set(user, make(releasesFor(releases, user).values()))
  }

  /** @param user the user of a save; the project's first where none is named */
  for(user: string | undefined): Runtime {
    if (this.#byUser.size === 0) return this.#everyones
    return this.#byUser.get(user ?? this.#everyones.project.users[0]?.name ?? 'owner') ?? this.#everyones
  }

  get everyones(): Runtime {
    return this.#everyones
  }
}
