import type { EngineLimits } from '../protocol.js'
import { EngineProcess } from './engine-process.js'

/**
 * Spare engines stand ready, started and with the project's files loaded, so that one that was stopped is replaced at once. They are
 * made when nobody waits for anything: one first, and a second as soon as it is ready, since the user who stopped one engine with a draft may
 * stop the next with it before a new one could be made.
 */

const MOST = 2
/** Milliseconds after which a spare is made, or told what changed: the one who was answered may ask again at once. */
const IDLE = 300

export class Spares {
  /** The oldest first. */
  #spares: EngineProcess[] = []
  #timer: NodeJS.Timeout | null = null
  #refreshing: NodeJS.Timeout | null = null
  #making = false
  #closed = false

  /** @param warm loads what an engine needs to answer at once; null: no spares are kept */
  constructor(
    readonly limits: EngineLimits,
    private readonly warm: ((engine: EngineProcess) => Promise<void>) | null,
  ) {}

  /** An engine: a spare, if there is one, else a new one. One that is still being warmed up is waited for before it is asked. */
  take(): EngineProcess {
    this.#spares = this.#spares.filter((each) => each.alive)
    return this.#spares.shift() ?? new EngineProcess(this.limits)
  }

  /** The first spare is made now. */
  begin(): void {
    if (this.warm && !this.#making) void this.#make()
  }

  /** There should be spares again soon. */
  refill(): void {
    if (!this.warm || this.#closed || this.#timer || this.#making) return
    this.#spares = this.#spares.filter((each) => each.alive)
    if (this.#spares.length >= MOST) return
    this.#timer = setTimeout(() => {
      this.#timer = null
      void this.#make()
    }, IDLE)
    this.#timer.unref()
  }

  async #make(): Promise<void> {
    if (this.#closed) return
    this.#making = true
    const spare = new EngineProcess(this.limits)
    this.#spares.push(spare)
    await this.#warmUp(spare)
    this.#making = false
    this.refill()
  }

  /** What goes wrong on the way goes wrong again for the taker, which receives the error. */
  #warmUp(spare: EngineProcess): Promise<void> {
    spare.started = spare.started.then(() => this.warm!(spare)).catch(() => {})
    return spare.started
  }

  /**
   * What an engine needs to know changed: the spares should know it, once those who wait for an answer have it. One that is taken before
   * is given what changed by anyone who takes it.
   */
  refresh(): void {
    if (!this.warm || this.#closed || this.#refreshing) return
    this.#refreshing = setTimeout(() => {
      this.#refreshing = null
      for (const spare of this.#spares) if (spare.alive) void this.#warmUp(spare)
    }, IDLE)
    this.#refreshing.unref()
  }

  async close(): Promise<void> {
    this.#closed = true
    if (this.#timer) clearTimeout(this.#timer)
    if (this.#refreshing) clearTimeout(this.#refreshing)
    await Promise.all(this.#spares.map((spare) => spare.close()))
  }
}
