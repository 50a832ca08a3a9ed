import { HookError } from '../errors.js'
import { parseProject } from '../model/project.js'
import type { Drafts } from './engine.js'
import { makeRuntime, type Runtime } from './runtime.js'

/**
 * The runtimes of one project: of the saved files, which runs on saves, and the last ones made of texts as they stand in
 * an editor. Typing makes a new runtime only when a text has changed since.
 */
export class Runtimes {
  #files: ReadonlyMap<string, string> = new Map()
  #saved: Runtime | null = null
  /** By whether code is recorded. */
  readonly #drafted = new Map<boolean, { key: string; runtime: Runtime }>()

  constructor(
    private readonly cells: Int32Array | undefined,
    private readonly tell: (event: string, data: unknown) => void,
  ) {}

  get files(): ReadonlyMap<string, string> {
    return this.#files
  }

  get saved(): Runtime {
    if (!this.#saved) throw new HookError('engine/stopped', { detail: 'no project is open' })
    return this.#saved
  }

  /** A runtime of these files, to be kept by `use` once everything else about them is right. @throws HookError */
  make(files: ReadonlyMap<string, string>): Runtime {
    return this.#make(files, false)
  }

  use(runtime: Runtime): void {
    this.#files = runtime.project.files
    this.#saved = runtime
    // Their modules may be taken over; they themselves are of files that were saved before.
    for (const each of this.#drafted.values()) each.key = ''
  }

  /** The project with some files as they stand in an editor. @throws HookError */
  with(drafts: Drafts = {}, recorded = false): Runtime {
    const changed = Object.entries(drafts).filter(([file, text]) => this.#files.get(file) !== text)
    if (changed.length === 0 && !recorded) return this.saved
    const key = JSON.stringify(changed)
    const known = this.#drafted.get(recorded)
    if (known?.key === key) return known.runtime
    const files = new Map([...this.#files, ...changed])
    const runtime = this.#make(files, recorded, known?.runtime)
    this.#drafted.set(recorded, { key, runtime })
    return runtime
  }

  #make(files: ReadonlyMap<string, string>, recorded: boolean, like?: Runtime): Runtime {
    const project = parseProject(files, this.#saved?.project)
    const runtime = makeRuntime(files, { cells: this.cells, project, recorded, like })
    this.tell(
      'hooks',
      runtime.program.hooks.map((hook) => ({ name: hook.name, file: hook.file })),
    )
    this.tell('tables', [...runtime.project.tables.keys()])
    return runtime
  }
}
