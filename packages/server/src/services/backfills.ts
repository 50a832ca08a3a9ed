import type { BackfillInfo } from '@patient-hook/contract'
import { HookError, report, runBackfill, type Application, type ErrorReport } from '@patient-hook/core'
import type { JobControl, Jobs } from './jobs.js'

type Control = JobControl<'backfill'>

/** Backfills that run: each has a job that reports its progress, one at a time. After a new start those that were running go on. */

export class Backfills {
  /** By backfill: its job, while it runs. */
  readonly #jobs = new Map<number, string>()
  /** Two at once would only wait for each other. */
  #last: Promise<void> = Promise.resolve()
  #closing = false

  /** @param wake called after a batch: it may have sent messages */
  constructor(
    private readonly application: Application,
    private readonly jobs: Jobs,
    private readonly wake: () => void,
  ) {}

  /** Those that a process before this one did not come to the end of. */
  async goOn(): Promise<void> {
    const backfills = await this.application.reader.read('backfills')
    for (const backfill of backfills.reverse()) if (backfill.state === 'running') this.run(backfill)
  }

  /** The job that reports its progress; null where it does not run. */
  jobOf(id: number): string | null {
    return this.#jobs.get(id) ?? null
  }

  run(backfill: BackfillInfo): void {
    const { id, undoes, wish } = backfill
    if (this.#jobs.has(id)) return
    const title = undoes === null ? (wish?.rows?.file ?? `Backfill ${id}`) : `Backfill ${undoes} undone`
    const job = this.jobs.begin('backfill', title, (control) => this.#work(backfill, control))
    this.#jobs.set(id, job.id)
  }

  /** Runs it within a job that there is already, until it is done or paused. @throws HookError why it failed */
  async runWithin(backfill: BackfillInfo, job: string, control: Omit<Control, 'result'>): Promise<void> {
    const { id } = backfill
    this.#jobs.set(id, job)
    const { signal, progress } = control
    await this.#work(backfill, { signal, progress, result: () => {} })
  }

  #work(backfill: BackfillInfo, control: Control): Promise<void> {
    const { id } = backfill
    const { live } = this.application
    const work = this.#last.then(async () => {
      try {
        control.progress(backfill.done, backfill.total)
        const { signal } = control
        const ended = await runBackfill(live, id, {
          signal,
          onProgress: (done, total) => {
            control.progress(done, total)
            this.wake()
          },
        })
        control.result(ended)
        if (ended.failure) throw new HookError(ended.failure as ErrorReport)
        // A user who stops the job means the backfill; a server that ends does not.
        if (signal.aborted && ended.state === 'running' && !this.#closing) await live.call('holdBackfill', id, 'paused')
      } catch (error) {
        const failure = HookError.is(error) ? error.report : report('engine/failed', { reason: (error as Error).message })
        await live.call('failBackfill', id, failure).catch(() => {})
        throw error
      } finally {
        this.#jobs.delete(id)
      }
    })
    this.#last = work.then(() => this.#again(id)).catch(() => {})
    return work
  }

  /** Somebody may have resumed it while its last batch ended. */
  async #again(id: number): Promise<void> {
    if (this.#closing || this.#jobs.has(id)) return
    const { backfill } = await this.application.reader.read('backfill', id)
    if (backfill.state === 'running') this.run(backfill)
  }

  /** What runs stops after its batch, and continues with the next start. */
  close(): void {
    this.#closing = true
  }
}
