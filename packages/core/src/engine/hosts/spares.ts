import type { EngineLimits } from '../protocol.js'
import { EngineProcess } from './engine-process.js'

/**
 * A spare engine stands ready, started and with the project's files loaded, so that one that was stopped is replaced at once. It is
 * made when nobody waits for anything.
 */
export class Spares {
  #spare: EngineProcess | null = null
  #timer: NodeJS.Timeout | null = null
  #closed = false

  /** @param warm loads what an engine needs to answer at once; null: no spare is kept */
  constructor(
    readonly limits: EngineLimits,
    private readonly warm: ((engine: EngineProcess) => Promise<void>) | null,
  ) {}

  /** An engine: the spare, if there is one, else a new one. */
  take(): EngineProcess {
    const spare = this.#spare
    this.#spare = null
    // One that is still being warmed up is given away with that: it is waited for before it is asked anything.
    if (spare?.alive) return spare
    return new EngineProcess(this.limits)
  }

  /** There should be a spare again soon. */
  refill(): void {
    if (!this.warm || this.#closed || this.#timer || this.#spare?.alive) return
    this.#timer = setTimeout(() => {
      this.#timer = null
      void this.#make()
    }, IDLE)
    this.#timer.unref()
  }

  async #make(): Promise<void> {
    if (this.#closed || this.#spare?.alive) return
    const spare = new EngineProcess(this.limits)
    this.#spare = spare
    await this.#warmUp(spare)
  }

  /** What goes wrong on the way goes wrong again for whoever takes it, who gets the error. */
  #warmUp(spare: EngineProcess): Promise<void> {
    spare.started = spare.started.then(() => this.warm!(spare)).catch(() => {})
    return spare.started
  }

  /** The files changed: the spare should know. */
  refresh(): void {
    if (this.warm && this.#spare?.alive) void this.#warmUp(this.#spare)
  }

  async close(): Promise<void> {
    this.#closed = true
    if (this.#timer) clearTimeout(this.#timer)
    await this.#spare?.close()
  }
}

/** Milliseconds after which a spare is made: the one who was answered may ask again at once. */
const IDLE = 300
