import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Store } from './database.js'

/**
 * A copy of the live records for anyone who tries something: made through a connection that only reads, so that the live file's
 * write lock is never held, and rebuilt only when the live records have changed.
 */

/** Up to so many bytes a copy is in memory; a larger one in a file. */
const IN_MEMORY = 256 * 1024 * 1024
/** Bytes 18 and 19 of a database's header say WAL (2) or not (1); what is in memory has no WAL (SQLite file format, 1.3.3). */
const WAL_BYTES = [18, 19]

export class Snapshot {
  #source: Store | null = null
  #version: unknown = null
  #copy: Store | null = null
  #folder: string | null = null

  /** @param database path of the live records */
  constructor(private readonly database: string) {}

  /** The copy, as the live records stand now. @throws HookError store/… */
  store(): Store {
    const source = (this.#source ??= new Store(this.database, { readonly: true }))
    const version = source.db.pragma('data_version', { simple: true })
    if (this.#copy && version === this.#version) return this.#copy
    this.#drop()
    try {
      const size =
        (source.db.pragma('page_count', { simple: true }) as number) * (source.db.pragma('page_size', { simple: true }) as number)
      this.#copy = size <= IN_MEMORY ? this.#inMemory(source) : this.#inFile(source)
    } catch (error) {
      throw source.toHookError(error)
    }
    this.#version = version
    return this.#copy
  }

  #inMemory(source: Store): Store {
    const contents = source.db.serialize()
    for (const at of WAL_BYTES) contents[at] = 1
    return new Store(':memory:', { contents })
  }

  #inFile(source: Store): Store {
    this.#folder = mkdtempSync(join(tmpdir(), 'patient-hook-try-'))
    const file = join(this.#folder, 'copy.db')
    source.db.prepare('VACUUM INTO ?').run(file)
    const copy = new Store(file)
    copy.db.pragma('synchronous = OFF')
    return copy
  }

  #drop(): void {
    this.#copy?.close()
    this.#copy = null
    if (this.#folder) rmSync(this.#folder, { recursive: true, force: true })
    this.#folder = null
  }

  close(): void {
    this.#drop()
    this.#source?.close()
    this.#source = null
  }
}
