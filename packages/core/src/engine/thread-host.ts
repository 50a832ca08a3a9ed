import { Worker } from 'node:worker_threads'
import { HookError, report, type ErrorReport } from '../errors.js'
import { CELL, CELLS, readPlace } from '../sandbox/meter.js'
import type { Drafts, EngineMethod, ProjectInfo } from './engine.js'
import type { Call, HostOptions, Message, Pending, Result, Values } from './protocol.js'

/**
 * The engine seen from another thread of its process. It watches the worker: a call that never comes back, or needs more
 * memory than it may, ends with the worker, whose open transaction SQLite rolls back; a new worker opens the same
 * project, and the error names the hook, file, line and row that were at work.
 */

export class ThreadHost {
  readonly #options: Required<HostOptions>
  #worker: Worker | null = null
  #cells = new Int32Array(new SharedArrayBuffer(CELLS * 4))
  #pending = new Map<number, Pending>()
  #nextId = 1
  #modules: string[] = []
  #hooks: { name: string; file: string }[] = []
  #tables: string[] = []
  #opened: { files: Drafts; database: string | undefined } | null = null
  #watch: NodeJS.Timeout | null = null
  #last = { mark: '', since: 0 }
  #dying: Promise<void> | null = null
  /** Code of a test file is running. */
  #testing = false

  constructor(
    options: HostOptions = {},
    private readonly tell: (event: string, data: unknown) => void = () => {},
  ) {
    this.#options = { stallMs: options.stallMs ?? 3000, memoryMb: options.memoryMb ?? 768 }
  }

  async open(files: Drafts, database?: string): Promise<ProjectInfo> {
    this.#opened = null
    const info = await this.call('open', files, database)
    this.#opened = { files, database }
    return info
  }

  /** @throws HookError what the engine threw, or why it was stopped */
  async call<M extends EngineMethod>(method: M, ...values: Values<M>): Promise<Result<M>> {
    const json = await this.callText(method, ...values)
    return (json === undefined ? undefined : JSON.parse(json)) as Result<M>
  }

  /** The answer as it came, in JSON. @throws HookError as call does */
  async callText<M extends EngineMethod>(method: M, ...values: Values<M>): Promise<string | undefined> {
    await this.#dying
    this.#worker ??= this.#start()
    const id = this.#nextId++
    const call: Call = { id, method, values }
    return new Promise((resolve, reject) => {
      this.#pending.set(id, { resolve, reject })
      this.#worker!.postMessage(call)
      this.#watch ??= setInterval(() => this.#look(), 200)
    })
  }

  async close(): Promise<void> {
    if (this.#watch) clearInterval(this.#watch)
    this.#watch = null
    const worker = this.#worker
    this.#worker = null
    if (!worker) return
    worker.removeAllListeners()
    await worker.terminate()
  }

  #start(): Worker {
    this.#cells = new Int32Array(new SharedArrayBuffer(CELLS * 4))
    const worker = new Worker(new URL('./worker.js', import.meta.url), {
      workerData: { cells: this.#cells },
      resourceLimits: { maxOldGenerationSizeMb: this.#options.memoryMb },
    })
    worker.on('message', (message: Message) => {
      if (message.event !== undefined) return this.#onEvent(message.event, message.data)
      const pending = this.#pending.get(message.id!)
      this.#pending.delete(message.id!)
      if (this.#pending.size === 0) this.#rest()
      if (message.error) pending?.reject(new HookError(message.error))
      else pending?.resolve(message.json)
    })
    worker.on('error', (error: Error & { code?: string }) => {
      const memory = error.code === 'ERR_WORKER_OUT_OF_MEMORY'
      this.#died(
        worker,
        memory
          ? this.atWork('budget/memory', { limit: this.#options.memoryMb })
          : report('engine/stopped', { detail: error.message }),
      )
    })
    return worker
  }

  #onEvent(event: string, data: unknown): void {
    if (event === 'module') {
      const { number, file } = data as { number: number; file: string }
      this.#modules[number] = file
    } else if (event === 'hooks') this.#hooks = data as { name: string; file: string }[]
    else if (event === 'tables') this.#tables = data as string[]
    else {
      this.#testing = event === 'test'
      this.tell(event, data)
    }
  }

  #rest(): void {
    if (this.#watch) clearInterval(this.#watch)
    this.#watch = null
    this.#last = { mark: '', since: 0 }
  }

  /** Has the worker moved since the last look? SQLite at work is waited for: the time budget sees to that. */
  #look(): void {
    const cells = this.#cells
    const inHook = cells[CELL.hook] !== 0 || this.#testing
    const mark = [cells[CELL.pulse], cells[CELL.place], cells[CELL.row], cells[CELL.hook]].join(' ')
    const now = Date.now()
    if (!inHook || cells[CELL.inQuery] === 1 || mark !== this.#last.mark || this.#pending.size === 0) {
      this.#last = { mark, since: now }
      return
    }
    if (now - this.#last.since >= this.#options.stallMs && this.#worker)
      this.#died(this.#worker, this.atWork('budget/stopped', { limit: this.#options.stallMs }))
  }

  /** The error of a worker that had to be stopped: what it was at. */
  atWork(code: 'budget/stopped' | 'budget/memory', details: Record<string, unknown>): ErrorReport {
    const cells = this.#cells
    const hook = this.#hooks[cells[CELL.hook]! - 1]
    const place = readPlace(cells[CELL.place]!)
    const file = this.#modules[place.module]
    const at = file !== undefined && place.line > 0 ? { file, line: place.line } : hook ? { file: hook.file } : {}
    const row = hook
      ? { table: this.#tables[cells[CELL.table]! - 1], row: cells[CELL.row] || undefined, id: cells[CELL.id] || undefined }
      : {}
    return report(code, { ...details, hook: hook?.name, ...at, ...row })
  }

  #died(worker: Worker, error: ErrorReport): void {
    if (worker !== this.#worker) return
    const pending = [...this.#pending.values()]
    this.#pending.clear()
    this.#rest()
    this.#worker = null
    this.#testing = false
    worker.removeAllListeners()
    worker.on('error', () => {})
    this.#dying = worker.terminate().then(async () => {
      this.#dying = null
      const opened = this.#opened
      if (opened) await this.call('open', opened.files, opened.database).catch(() => undefined)
      for (const { reject } of pending) reject(new HookError(error))
    })
  }
}
