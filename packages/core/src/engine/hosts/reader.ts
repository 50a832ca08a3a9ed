import type { Worker } from 'node:worker_threads'
import { HookError, type ErrorReport } from '../../errors.js'
import { startThread } from '../thread.js'
import type { READS } from '../reads.js'

/**
 * Reads of live records for the interface, through a connection of its own that cannot write: a long list never stands before a save.
 * No hook runs there.
 */
type Reads = typeof READS
type ReadName = keyof Reads
type ReadValues<N extends ReadName> = Reads[N] extends (open: never, ...values: infer V) => unknown ? V : never
type ReadResult<N extends ReadName> = Reads[N] extends (...values: never[]) => infer R ? R : never

export interface ReadCall {
  id: number
  read: ReadName
  values: unknown[]
}
export type ReadAnswer = { id: number; value: unknown } | { id: number; error: ErrorReport }

export class Reader {
  #worker: Worker | null = null
  readonly #pending = new Map<number, { resolve: (value: unknown) => void; reject: (error: unknown) => void }>()
  #nextId = 1

  constructor(private readonly database: string) {}

  /** @throws HookError */
  read<N extends ReadName>(read: N, ...values: ReadValues<N>): Promise<ReadResult<N>> {
    const worker = (this.#worker ??= this.#start())
    const id = this.#nextId++
    return new Promise<unknown>((resolve, reject) => {
      this.#pending.set(id, { resolve, reject })
      worker.postMessage({ id, read, values } satisfies ReadCall)
    }) as Promise<ReadResult<N>>
  }

  #start(): Worker {
    const worker = startThread(new URL('./reader-worker.js', import.meta.url), {
      workerData: { database: this.database },
    })
    worker.on('message', (answer: ReadAnswer) => {
      const pending = this.#pending.get(answer.id)
      this.#pending.delete(answer.id)
      if ('error' in answer) pending?.reject(new HookError(answer.error))
      else pending?.resolve(answer.value)
    })
    const ended = (reason: string) => {
      if (worker !== this.#worker) return
      this.#worker = null
      for (const { reject } of this.#pending.values()) reject(new HookError('engine/stopped', { reason }))
      this.#pending.clear()
    }
    worker.on('error', (error) => ended(error.message))
    worker.on('exit', (code) => ended(`its thread ended (${code})`))
    return worker
  }

  async close(): Promise<void> {
    const worker = this.#worker
    this.#worker = null
    await worker?.terminate()
  }
}
