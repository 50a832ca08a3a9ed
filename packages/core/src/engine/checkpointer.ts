import { Worker } from 'node:worker_threads'
import type { Store } from '../store/database.js'

/**
 * Moves what is in the write-ahead log into the file itself (a checkpoint, in SQLite's words) on its own thread and connection, so no
 * save does it for those before. It waits for nobody and nobody waits for it; what it moves has been written to the disk as part of the log before.
 */

/** From how many pages on it is worth the while; SQLite's own default. */
const PAGES = 1000

/** From how many pages on a save does it itself, in pages of 4 kB: saves that never pause would let the log grow for ever. */
const PAGES_AT_MOST = 16_384

interface LogState {
  /** Pages in the log, and those of them that are in the file already; −1 where there is no log. */
  log: number
  checkpointed: number
}

export class Checkpointer {
  #thread: Worker | null = null
  #busy = false
  #failed = false

  /** @param store of a file, in write-ahead mode, which writes it */
  constructor(private readonly store: Store) {
    store.db.pragma(`wal_autocheckpoint = ${PAGES_AT_MOST}`)
  }

  /** To be called after work that may have written. */
  afterWork(): void {
    if (this.#busy || this.#failed) return
    if (this.#pagesLeft() < PAGES) return
    this.#busy = true
    this.#threadOf().postMessage(null)
  }

  #pagesLeft(): number {
    try {
      const [state] = this.store.objects('PRAGMA wal_checkpoint(NOOP)') as unknown as [LogState]
      return state.log - state.checkpointed
    } catch {
      // Another program holds the file: the next save says so.
      return 0
    }
  }

  #threadOf(): Worker {
    if (this.#thread) return this.#thread
    const thread = new Worker(new URL('./checkpoint-thread.js', import.meta.url), { workerData: { file: this.store.file } })
    thread.on('message', () => (this.#busy = false))
    // Then saves do it, as far apart as that is.
    thread.on('error', () => (this.#failed = true))
    thread.unref()
    return (this.#thread = thread)
  }

  close(): void {
    void this.#thread?.terminate()
    this.#thread = null
  }
}
