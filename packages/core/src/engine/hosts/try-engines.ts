import { availableParallelism } from 'node:os'
import { HookError } from '../../errors.js'
import type { CallName, CallResult, CallValues } from '../calls/index.js'
import type { EngineProcess } from './engine-process.js'
import type { Spares } from './spares.js'

/**
 * The engines that try things: sheets, rehearsals, tests. As many as there are processors; what is asked for waits for a free one.
 * An engine that had to be stopped takes only the call at work with it.
 */

export interface TryOptions {
  /** The client disconnected. */
  signal?: AbortSignal
  onEvent?: (event: string, data: unknown) => void
  /** The engine needs no files for it. */
  bare?: boolean
  /** Work that somebody looks at goes before work that runs in the background, which never has all engines. */
  background?: boolean
  /** The client, such as a key: engines are shared between them. Default: the people at the interface. */
  owner?: string
}

interface Waiting extends TryOptions {
  call: string
  values: unknown[]
  resolve: (json: string | undefined) => void
  reject: (error: unknown) => void
}

/** What the engines work on. */
export interface Project {
  files: ReadonlyMap<string, string>
  /** Path of the live records; null: the project's data/. */
  database: string | null
}

/**
 * Milliseconds after which a call is given up with its engine. Hooks and queries at work have shorter their own limits (watchdog.ts); these are
 * for what compiles, analyses and reads. Proofs and tests have none: they go file by file, and can be stopped.
 */
const DEADLINES: Partial<Record<string, number>> = {
  check: 60_000,
  compileAhead: 20_000,
  sheet: 60_000,
  rehearse: 180_000,
  readLive: 60_000,
  planModel: 180_000,
  planCode: 180_000,
}

export class TryEngines {
  readonly #engines = new Set<EngineProcess>()
  readonly #waiting: Waiting[] = []
  #project: Project
  #closed = false

  /** @param size how many engines at most, without the extra ones */
  constructor(
    private readonly spares: Spares,
    project: Project,
    readonly size = Math.max(2, availableParallelism()),
    /** Engines beside these that work in the background never gets. */
    private readonly extra = 0,
  ) {
    this.#project = project
  }

  /** From the next call on, this is what is worked on. */
  use(project: Project): void {
    this.#project = project
  }

  /** @throws HookError what the engine threw, or why it was stopped; request/cancelled when the client disconnected */
  async call<N extends CallName>(call: N, values: CallValues<N>, options: TryOptions = {}): Promise<CallResult<N>> {
    const json = await this.callText(call, values, options)
    return (json === undefined ? undefined : JSON.parse(json)) as CallResult<N>
  }

  /** The answer as it came, in JSON. @throws HookError as call does */
  callText<N extends CallName>(call: N, values: CallValues<N>, options: TryOptions = {}): Promise<string | undefined> {
    const { signal } = options
    return new Promise((resolve, reject) => {
      if (signal?.aborted) return reject(new HookError('request/cancelled'))
      if (this.#closed) return reject(new HookError('engine/closed'))
      const waiting: Waiting = { ...options, call, values, resolve, reject }
      if (options.background) this.#waiting.push(waiting)
      else {
        const first = this.#waiting.findIndex((each) => each.background)
        this.#waiting.splice(first < 0 ? this.#waiting.length : first, 0, waiting)
      }
      signal?.addEventListener('abort', () => {
        const at = this.#waiting.indexOf(waiting)
        if (at < 0) return
        this.#waiting.splice(at, 1)
        reject(new HookError('request/cancelled'))
      })
      this.#next()
    })
  }

  readonly #atWork = new Set<Waiting>()

  /** The place of the work that is next: somebody's before that in the background, and the one's who has the least at work. */
  #nextPlace(): number {
    const working = [...this.#atWork]
    const isFull = working.filter(({ background }) => background).length >= this.size
    const load = ({ owner, background }: Waiting) =>
      working.filter((each) => !each.background === !background && each.owner === owner).length
    let best = -1
    for (const [place, waiting] of this.#waiting.entries()) {
      if (waiting.background && (isFull || best >= 0)) break
      if (best < 0 || load(waiting) < load(this.#waiting[best]!)) best = place
    }
    return best
  }

  #next(): void {
    for (;;) {
      const place = this.#nextPlace()
      if (place < 0) return
      let engine = [...this.#engines].find((each) => !each.busy && !this.#preparing.has(each))
      if (!engine && this.#engines.size < this.size + this.extra) {
        engine = this.spares.take()
        this.#engines.add(engine)
        this.spares.refill()
        const mine = engine
        mine.onDeath = () => {
          this.#engines.delete(mine)
          if (!this.#closed) this.#next()
        }
        if (!mine.alive) continue
      }
      if (!engine) return
      void this.#work(engine, this.#waiting.splice(place, 1)[0]!)
    }
  }

  /** Engines between two calls of one piece of work. */
  readonly #preparing = new Set<EngineProcess>()

  async #work(engine: EngineProcess, waiting: Waiting): Promise<void> {
    const { signal, resolve, reject } = waiting
    let gone = false
    const abort = () => {
      gone = true
      engine.cancel()
      reject(new HookError('request/cancelled'))
    }
    this.#preparing.add(engine)
    this.#atWork.add(waiting)
    const limit = DEADLINES[waiting.call]
    const giveUp = () => {
      gone = true
      engine.cancel()
      reject(new HookError('engine/too-long', { call: waiting.call, seconds: limit! / 1000 }))
    }
    const timer = limit === undefined ? undefined : setTimeout(giveUp, limit)
    try {
      await engine.started
      if (signal?.aborted) return reject(new HookError('request/cancelled'))
      signal?.addEventListener('abort', abort)
      if (!waiting.bare) await bringUpToDate(engine, this.#project)
      if (gone) return
      resolve(await engine.callText(waiting.call, waiting.values, waiting.onEvent))
    } catch (error) {
      reject(error)
    } finally {
      signal?.removeEventListener('abort', abort)
      clearTimeout(timer)
      this.#atWork.delete(waiting)
      this.#preparing.delete(engine)
      this.spares.refill()
      this.#next()
    }
  }

  async close(): Promise<void> {
    this.#closed = true
    for (const waiting of this.#waiting.splice(0)) waiting.reject(new HookError('engine/closed'))
    await Promise.all([...this.#engines].map((engine) => engine.close()))
    await this.spares.close()
  }
}

/** Gives an engine the files that changed since it was given any. @throws HookError where they are wrong */
export async function bringUpToDate(engine: EngineProcess, project: Project): Promise<void> {
  const { files, database } = project
  const before = engine.open
  if (before === files) return
  const changed: Record<string, string | null> = {}
  for (const [path, text] of files) if (before?.get(path) !== text) changed[path] = text
  for (const path of before?.keys() ?? []) if (!files.has(path)) changed[path] = null
  await engine.call('useFiles', changed, database)
  engine.open = files
}
