import { createHash } from 'node:crypto'
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { checkInside, makeFolder } from '@patient-hook/core/workbench'
import type { LinkConflict, LinkState } from '@patient-hook/contract'
import {
  describe,
  describeAll,
  editorFiles,
  HookError,
  parseProject,
  readFolder,
  TYPES_FILE,
  watchFolder,
  type LiveEngine,
} from '@patient-hook/core'

/**
 * Keeps the working copy and a folder the same. A change of one side goes to the other where that is as it was when both were last the
 * same; where both have changed, neither is touched until somebody says which text is meant.
 */

type Texts = ReadonlyMap<string, string>

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex')

/** Records are the application's own; a table's file is changed with its records, in the Model view. */
const isShared = (path: string): boolean => !path.startsWith('data/')
const isModel = (path: string): boolean => path.startsWith('tables/')

export class Link {
  readonly folder: string
  /** By path: the hash of the text that both sides had last. */
  #same: Map<string, string>
  #conflicts: LinkConflict[] = []
  #trouble: string[] = []
  readonly #end = new AbortController()
  #listener: () => void = () => {}
  /** In sequence: a change of one side may be the answer to a change of the other. */
  #last: Promise<unknown> = Promise.resolve()

  /** @param memory where it is kept what both sides had, so that a new start knows which has changed */
  constructor(
    folder: string,
    private readonly live: LiveEngine,
    private readonly memory: string,
  ) {
    this.folder = resolve(folder)
    this.#same = this.#remembered()
  }

  get state(): LinkState {
    return { folder: this.folder, conflicts: this.#conflicts, trouble: this.#trouble }
  }

  /** Called when conflicts or trouble are others than before. */
  set onChange(tell: () => void) {
    this.#listener = tell
  }

  /** @throws HookError where the folder cannot be read */
  async start(): Promise<void> {
    const files = readFolder(this.folder)
    // A first time: what is the same is known, what is not is shown.
    for (const [path, text] of files) if (this.live.files.get(path) === text) this.#same.set(path, hashOf(text))
    await this.#bringTogether(files)
    const stop = this.live.listen(() => void this.#follow())
    this.#end.signal.addEventListener('abort', stop)
    void watchFolder(
      this.folder,
      files,
      (error) => this.#tell([wordOf(error)]),
      async (now) => this.#bringTogether(now),
      this.#end.signal,
    ).catch((error: unknown) => this.#tell([wordOf(error)]))
  }

  /** Somebody says which text is meant. @throws HookError request/bad where the file is in no conflict */
  async resolve(file: string, take: 'folder' | 'application'): Promise<void> {
    const conflict = this.#conflicts.find((each) => each.file === file)
    if (!conflict) throw new HookError('request/bad', { detail: `${file} is the same on both sides, or was changed again` })
    if (take === 'folder' && conflict.why === 'model')
      throw new HookError('request/bad', { detail: `${file}: tables are changed in the Model view, with their records` })
    const other = take === 'folder' ? conflict.application : conflict.folder
    // The other side is taken for what both had: then the one that is meant is the only change.
    if (other === null) this.#same.delete(file)
    else this.#same.set(file, hashOf(other))
    await this.#follow()
  }

  /** Waits for what is under way. */
  async stop(): Promise<void> {
    this.#end.abort()
    await this.#last
  }

  #follow(): Promise<void> {
    try {
      return this.#bringTogether(readFolder(this.folder))
    } catch (error) {
      this.#tell([wordOf(error)])
      return Promise.resolve()
    }
  }

  #bringTogether(folder: Texts): Promise<void> {
    const next = this.#last.then(() => (this.#end.signal.aborted ? undefined : this.#step(folder)))
    this.#last = next.catch(() => {})
    return next
  }

  async #step(folder: Texts): Promise<void> {
    const application = this.live.files
    const toApplication: Record<string, string | null> = {}
    const conflicts: LinkConflict[] = []
    for (const path of new Set([...folder.keys(), ...application.keys()])) {
      if (!isShared(path)) continue
      const [there, here] = [folder.get(path) ?? null, application.get(path) ?? null]
      const known = this.#same.get(path) ?? null
      const [differsThere, differsHere] = [hashOrNull(there) !== known, hashOrNull(here) !== known]
      if (there === here) this.#agree(path, there)
      else if (differsThere && !differsHere && !isModel(path)) toApplication[path] = there
      else if (differsHere && !differsThere) this.#write(path, here)
      else conflicts.push({ file: path, why: differsHere ? 'both' : 'model', folder: there, application: here })
    }
    const trouble = await this.#put(toApplication)
    const isNew = JSON.stringify([conflicts, trouble]) !== JSON.stringify([this.#conflicts, this.#trouble])
    this.#conflicts = conflicts
    this.#trouble = trouble
    this.#remember()
    this.#writeTypes()
    if (isNew) this.#listener()
  }

  /** @returns why it cannot be taken: it comes again with the next change of the folder */
  async #put(changed: Record<string, string | null>): Promise<string[]> {
    if (Object.keys(changed).length === 0) return []
    try {
      await this.live.putFiles(changed)
    } catch (error) {
      if (!HookError.is(error)) throw error
      return describeAll(error.report)
    }
    for (const [path, text] of Object.entries(changed)) this.#agree(path, text)
    return []
  }

  #write(path: string, text: string | null): void {
    checkInside(this.folder, path)
    const target = join(this.folder, path)
    if (text === null) rmSync(target, { force: true })
    else {
      makeFolder(dirname(target))
      writeFileSync(target, text)
    }
    this.#agree(path, text)
  }

  /** Declarations that an editor has are those of the tables as they are. */
  #writeTypes(): void {
    const target = join(this.folder, TYPES_FILE)
    if (!existsSync(target)) return
    const text = editorFiles(parseProject(this.live.files, undefined, true)).get(TYPES_FILE)!
    if (readFileSync(target, 'utf8') !== text) writeFileSync(target, text)
  }

  #agree(path: string, text: string | null): void {
    if (text === null) this.#same.delete(path)
    else this.#same.set(path, hashOf(text))
  }

  #tell(trouble: string[]): void {
    this.#trouble = trouble
    this.#listener()
  }

  #remembered(): Map<string, string> {
    if (!existsSync(this.memory)) return new Map()
    try {
      const { folder, same } = JSON.parse(readFileSync(this.memory, 'utf8')) as { folder: string; same: Record<string, string> }
      return folder === this.folder ? new Map(Object.entries(same)) : new Map()
    } catch {
      // Then it is a first time again: nothing is written over, the differences is shown.
      return new Map()
    }
  }

  #remember(): void {
    writeFileSync(this.memory, JSON.stringify({ folder: this.folder, same: Object.fromEntries(this.#same) }), { mode: 0o600 })
  }
}

const hashOrNull = (text: string | null): string | null => (text === null ? null : hashOf(text))
const wordOf = (error: unknown): string => (HookError.is(error) ? describe(error.report) : (error as Error).message)
