import { randomUUID } from 'node:crypto'
import { EventEmitter, setMaxListeners } from 'node:events'
import type { Job as JobAnswer, JobEvent, JobInfo, JobKind, JobResult } from '@patient-hook/contract'
import { HookError, report } from '@patient-hook/core'

/** Long work: each piece has an id, progress, results, and can be stopped. */

/** Ended jobs that are remembered. */
const REMEMBERED = 50

/** What the work itself tells. */
export interface JobControl<K extends JobKind = JobKind> {
  /** Aborted when the job is to stop. */
  signal: AbortSignal
  progress(done: number, total: number | null): void
  result(result: JobResult<K>): void
}

class Job {
  readonly #controller = new AbortController()
  readonly #listeners = new EventEmitter().setMaxListeners(0)
  readonly results: JobResult[] = []
  readonly #started = performance.now()
  info: JobInfo

  constructor(kind: JobKind, title: string, code: string | null) {
    // Each call of the work listens.
    setMaxListeners(0, this.#controller.signal)
    this.info = {
      id: randomUUID(),
      kind,
      title,
      state: 'running',
      progress: { done: 0, total: null, rate: 0, secondsLeft: null },
      begun: new Date().toISOString(),
      ended: null,
      error: null,
      code,
    }
  }

  async run<K extends JobKind>(work: (job: JobControl<K>) => Promise<void>): Promise<void> {
    try {
      await work({
        signal: this.#controller.signal,
        progress: (done, total) => this.#progress(done, total),
        result: (result) => {
          this.results.push(result)
          this.#tell({ event: 'result', result })
        },
      })
      this.#end('done', null)
    } catch (error) {
      if (this.#controller.signal.aborted) this.#end('cancelled', null)
      else this.#end('failed', HookError.is(error) ? error.report : report('engine/failed', { reason: (error as Error).message }))
    }
  }

  #progress(done: number, total: number | null): void {
    const seconds = Math.max(0.001, (performance.now() - this.#started) / 1000)
    const rate = done / seconds
    const secondsLeft = total === null || done === 0 ? null : Math.max(0, (total - done) / rate)
    this.info = { ...this.info, progress: { done, total, rate, secondsLeft } }
    this.#tell({ event: 'progress', job: this.info })
  }

  #end(state: JobInfo['state'], error: JobInfo['error']): void {
    this.info = { ...this.info, state, error, ended: new Date().toISOString() }
    this.#tell({ event: 'end', job: this.info })
  }

  #tell(event: JobEvent): void {
    this.#listeners.emit('event', event)
  }

  cancel(): void {
    this.#controller.abort()
  }

  get running(): boolean {
    return this.info.state === 'running'
  }

  /** @returns stops the watching */
  watch(send: (event: JobEvent) => void): () => void {
    send({ event: 'state', job: this.info, results: this.results })
    if (!this.running) {
      send({ event: 'end', job: this.info })
      return () => {}
    }
    this.#listeners.on('event', send)
    return () => void this.#listeners.off('event', send)
  }
}

export class Jobs {
  /** Oldest first. */
  readonly #jobs = new Map<string, Job>()
  readonly #going = new Set<Promise<void>>()

  /** @param code names the code that is measured, if any */
  begin<K extends JobKind>(
    kind: K,
    title: string,
    work: (job: JobControl<K>) => Promise<void>,
    code: string | null = null,
  ): JobInfo {
    const job = new Job(kind, title, code)
    this.#jobs.set(job.info.id, job)
    const run = job.run(work).finally(() => this.#going.delete(run))
    this.#going.add(run)
    const ended = [...this.#jobs.values()].filter((each) => !each.running)
    for (const { info } of ended.slice(0, Math.max(0, ended.length - REMEMBERED))) this.#jobs.delete(info.id)
    return job.info
  }

  /** Newest first. */
  list(): JobInfo[] {
    return [...this.#jobs.values()].map((job) => job.info).reverse()
  }

  #job(id: string): Job {
    const job = this.#jobs.get(id)
    if (!job) throw new HookError('job/unknown', { job: id })
    return job
  }

  get(id: string): JobAnswer {
    const { info, results } = this.#job(id)
    return { job: info, results }
  }

  cancel(id: string): JobInfo {
    const job = this.#job(id)
    job.cancel()
    return job.info
  }

  watch(id: string, send: (event: JobEvent) => void): () => void {
    return this.#job(id).watch(send)
  }

  /** Stops all, and ends when they have. */
  async close(): Promise<void> {
    for (const job of this.#jobs.values()) job.cancel()
    await Promise.allSettled([...this.#going])
  }
}
