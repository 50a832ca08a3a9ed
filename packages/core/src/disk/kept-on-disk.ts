import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { deserialize, serialize } from 'node:v8'
import { attempt } from '../attempt.js'

/**
 * What was computed from the texts of projects, on disk, in node_modules/.cache: a process that starts need not work out again what one
 * before it has. Of each kind there is one file: to make its own file for each answer takes longer than to work most of them out. Nothing depends
 * on it: what cannot be read is computed, and what cannot be written is not kept.
 */

let root: string | null = null
const kinds: KeptOnDisk<unknown>[] = []

/** From now on it is kept. For processes that run projects, not for tests of what is computed. */
export function keepOnDisk(): void {
  root ??= attempt(() => join(cacheFolder(), builtName())) ?? null
}

/** Is anything kept in this process? */
export const isKeptOnDisk = (): boolean => root !== null

/** Writes what was reported since it was last called; until then it is known to this process only. */
export function writeKept(): void {
  for (const kind of kinds) kind.flush()
}

/** More are not kept: those that were reported first go first. Bytes of one kind. */
const MOST = 64 * 2 ** 20

interface Entry {
  /** Represents all that the answer depends on. */
  from: string
  answer: Uint8Array
}

export class KeptOnDisk<T> {
  /** By name, the latest last; null: not read yet. */
  #entries: Map<string, Entry> | null = null
  /** Of the file as it was read: a process beside this one may write it, too. */
  #read = ''
  readonly #told = new Map<string, Entry>()

  /** @param kind what is kept, as the name of a file */
  constructor(private readonly kind: string) {
    kinds.push(this)
  }

  /** @param name of which there is one answer at most @param from all that the answer depends on */
  read(name: string, from: string): T | null {
    const entry = this.#entryOf(name, from)
    return entry ? (attempt(() => deserialize(entry.answer) as T) ?? null) : null
  }

  /** Is there none, although it would be kept? */
  lacks(name: string, from: string): boolean {
    return root !== null && this.#entryOf(name, from) === null
  }

  #entryOf(name: string, from: string): Entry | null {
    if (root === null) return null
    this.#entries ??= this.#fromDisk()
    const entry = this.#told.get(name) ?? this.#entries.get(name)
    return entry?.from === hashOf(from) ? entry : null
  }

  write(name: string, from: string, answer: T): void {
    if (root !== null) this.#told.set(name, { from: hashOf(from), answer: serialize(answer) })
  }

  flush(): void {
    if (root === null || this.#told.size === 0) return
    if (!this.#entries || this.#state() !== this.#read) this.#entries = this.#fromDisk()
    for (const [name, entry] of this.#told) {
      this.#entries.delete(name)
      this.#entries.set(name, entry)
    }
    this.#told.clear()
    let size = 0
    for (const [name, { answer }] of [...this.#entries].reverse()) if ((size += answer.length) > MOST) this.#entries.delete(name)
    const entries = this.#entries
    const own = `${this.#path()}.${process.pid}`
    attempt(() => {
      if (!existsSync(root!)) clearOld()
      mkdirSync(root!, { recursive: true })
      writeFileSync(own, serialize(entries))
      renameSync(own, this.#path())
      this.#read = this.#state()
    })
    // Where it could not be put in its place.
    attempt(() => rmSync(own, { force: true }))
  }

  #fromDisk(): Map<string, Entry> {
    this.#read = this.#state()
    const entries = attempt(() => deserialize(readFileSync(this.#path())) as unknown)
    return entries instanceof Map ? (entries as Map<string, Entry>) : new Map<string, Entry>()
  }

  /** Another one after each change of the file; empty where there is none. */
  #state(): string {
    const file = attempt(() => statSync(this.#path()))
    return file ? `${file.ino} ${file.mtimeMs} ${file.size}` : ''
  }

  #path(): string {
    return join(root!, `${this.kind}.bin`)
  }
}

const hashOf = (text: string): string => createHash('sha256').update(text).digest('base64')

const cacheFolder = (): string =>
  join(dirname(createRequire(import.meta.url).resolve('typescript/package.json')), '..', '.cache', 'patient-hook')

/** Days after which what an earlier build left is removed. */
const OLD_DAYS = 7

/** Another build may be at work beside this one: only what nobody has written for days goes. */
function clearOld(): void {
  const before = Date.now() - OLD_DAYS * 86_400_000
  for (const name of existsSync(cacheFolder()) ? readdirSync(cacheFolder()) : []) {
    const folder = join(cacheFolder(), name)
    if (/^[0-9a-f]{16}$/.test(name) && statSync(folder).mtimeMs < before) rmSync(folder, { recursive: true, force: true })
  }
}

/** Differs whenever what works things out differs: ours, TypeScript, or V8, in whose form it is written. */
function builtName(): string {
  const hash = createHash('sha256').update(process.version)
  hash.update(readFileSync(createRequire(import.meta.url).resolve('typescript/package.json')))
  // What the build notes of each of its sources, of this package and of the one that it uses; seen from src/ or dist/.
  const dist = join(dirname(fileURLToPath(import.meta.url)), '../../dist')
  for (const notes of ['.tsbuildinfo', '../../contract/dist/.tsbuildinfo']) hash.update(readFileSync(join(dist, notes)))
  return hash.digest('hex').slice(0, 16)
}
