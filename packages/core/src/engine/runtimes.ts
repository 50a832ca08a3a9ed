import { HookError } from '../errors.js'
import { parseProject } from '../model/project.js'
import type { Project } from '../model/types.js'
import type { Equipment } from '../sandbox/compile.js'
import { makeRuntime, type Runtime, type RuntimeOptions } from './runtime.js'

/**
 * The runtimes of one project: of the saved files, which runs on saves, and the last ones made of texts in
 * an editor. Typing makes a new runtime only when a text has changed since.
 */
export class Runtimes {
  #saved: Runtime | null = null
  #project: Project | null = null
  readonly #drafted = new Map<Equipment, { key: string; runtime: Runtime }>()

  get files(): ReadonlyMap<string, string> {
    return this.#project?.files ?? new Map()
  }

  /** @throws HookError where the hooks cannot be loaded */
  get saved(): Runtime {
    if (!this.#project) throw new HookError('engine/failed', { reason: 'no project is open' })
    return (this.#saved ??= makeRuntime(this.#project.files, { project: this.#project }))
  }

  /** The project as it was read last, to read less of the next. */
  get known(): Project | undefined {
    return this.#project ?? undefined
  }

  /** @param late records are read when they are asked for @throws HookError with everything that is wrong */
  parse(files: ReadonlyMap<string, string>, late = false): Project {
    return parseProject(files, this.known, late)
  }

  /** The project with some files as edited; its hooks are not loaded. @throws HookError where a file is wrong */
  projectWith(drafts: Record<string, string> = {}): Project {
    const changed = Object.entries(drafts).filter(([file, text]) => this.files.get(file) !== text)
    if (changed.length === 0 && this.#project) return this.#project
    return this.parse(new Map([...this.files, ...changed]), true)
  }

  /**
   * A runtime of these files, to be kept by `use` once everything else about them is right. Modules that are the same are taken over.
   * @throws HookError with everything that is wrong
   */
  make(files: ReadonlyMap<string, string>, options: Pick<RuntimeOptions, 'project' | 'changed' | 'ahead'> = {}): Runtime {
    return makeRuntime(files, { ...options, project: options.project ?? this.parse(files), like: this.#saved ?? undefined })
  }

  /** Opens files without making a runtime of them, or reading records, before it is needed. @throws HookError where they are wrong */
  open(files: ReadonlyMap<string, string>): void {
    this.#take(this.parse(files, true), null)
  }

  use(runtime: Runtime): void {
    this.#take(runtime.project, runtime)
  }

  #take(project: Project, runtime: Runtime | null): void {
    this.#project = project
    this.#saved = runtime
    // Their modules may be taken over; they themselves are of files that were saved before.
    for (const drafted of this.#drafted.values()) drafted.key = ''
  }

  /** The project with some files as edited. @throws HookError */
  with(drafts: Record<string, string> = {}, equipment: Equipment = 'plain'): Runtime {
    const changed = Object.entries(drafts).filter(([file, text]) => this.files.get(file) !== text)
    if (changed.length === 0 && equipment === 'plain') return this.saved
    const key = JSON.stringify(changed)
    const known = this.#drafted.get(equipment)
    if (known?.key === key) return known.runtime
    const files = new Map([...this.files, ...changed])
    const drafted = new Set(changed.map(([file]) => file))
    const runtime = makeRuntime(files, {
      project: this.parse(files, true),
      equipment,
      like: known?.runtime,
      isSaved: (file) => !drafted.has(file),
    })
    this.#drafted.set(equipment, { key, runtime })
    return runtime
  }
}
