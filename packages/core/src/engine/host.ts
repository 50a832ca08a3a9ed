import { fork, type ChildProcess } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { HookError, report, type ErrorReport } from '../errors.js'
import type { TestResult } from '../prove/run-tests.js'
import type { Drafts, EngineMethod, ProjectInfo } from './engine.js'
import { ENGINE_FLAGS, type Call, type HostOptions, type Message, type Pending, type Result, type Values } from './protocol.js'

/**
 * The engine as servers and commands use it: in a process of its own, which is started again when it dies, opens the
 * same project, and loses nothing but what was not committed.
 */
export class EngineHost {
  readonly #options: Required<HostOptions>
  #child: ChildProcess | null = null
  readonly #pending = new Map<number, Pending>()
  #nextId = 1
  #opened: { files: Drafts; database: string | undefined } | null = null
  #atWork: ErrorReport | null = null
  #reopening: Promise<unknown> | null = null
  #onResult: (result: TestResult) => void = () => {}
  /** The test that runs. */
  #test: { file: string; name: string; line: number | null } | null = null

  constructor(options: HostOptions = {}) {
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

  /** The answer as it came, in JSON, for those who only hand it on. @throws HookError as call does */
  async callText<M extends EngineMethod>(method: M, ...values: Values<M>): Promise<string | undefined> {
    await this.#reopening
    return this.#send(method, values)
  }

  #send(method: EngineMethod, values: unknown[]): Promise<string | undefined> {
    this.#child ??= this.#start()
    const id = this.#nextId++
    const call: Call = { id, method, values }
    return new Promise((resolve, reject) => {
      this.#pending.set(id, { resolve, reject })
      this.#child!.send(call)
    })
  }

  /** Runs tests; one that hangs or uses up the memory fails, and the rest goes on. */
  async runTests(drafts?: Drafts, only?: string[], onResult: (result: TestResult) => void = () => {}): Promise<TestResult[]> {
    const results: TestResult[] = []
    this.#onResult = (result) => {
      results.push(result)
      onResult(result)
    }
    for (;;) {
      // A file that could not be loaded stands under its own name; it fails again rather than being skipped.
      const done = results.map(({ file, name }) => ({ file, name }))
      try {
        await this.call('tests', drafts, only, done)
        return results
      } catch (error) {
        const hung = this.#test
        this.#test = null
        if (!hung || !(error instanceof HookError)) throw error
        this.#onResult({
          ...hung,
          status: 'failed',
          ms: this.#options.stallMs,
          error: { ...error.report, file: error.report.file ?? hung.file },
        })
      }
    }
  }

  async close(): Promise<void> {
    const child = this.#child
    this.#child = null
    if (!child) return
    child.removeAllListeners()
    await new Promise((done) => {
      child.once('exit', done)
      child.disconnect()
    })
  }

  #start(): ChildProcess {
    const child = fork(fileURLToPath(new URL('./process.js', import.meta.url)), [JSON.stringify(this.#options)], {
      serialization: 'advanced',
      execArgv: [...ENGINE_FLAGS],
      // What V8 prints when it runs out of memory is said again in our own words.
      stdio: ['ignore', 'inherit', 'ignore', 'ipc'],
    })
    child.on('message', (message: Message) => this.#onMessage(message))
    child.on('exit', (code, signal) => this.#died(child, signal ?? String(code)))
    return child
  }

  #onMessage(message: Message): void {
    const { event, data } = message
    if (event === 'at-work') this.#atWork = data as ErrorReport
    else if (event === 'test') this.#test = data as { file: string; name: string; line: number | null }
    else if (event === 'result') {
      this.#test = null
      this.#onResult(data as TestResult)
    }
    if (event !== undefined) return
    const pending = this.#pending.get(message.id!)
    this.#pending.delete(message.id!)
    if (message.error) pending?.reject(new HookError(message.error))
    else pending?.resolve(message.json)
  }

  /** V8 aborts when memory is used up where it cannot be given back: SIGABRT or SIGTRAP, or exit code 134. */
  #died(child: ChildProcess, how: string): void {
    if (child !== this.#child) return
    this.#child = null
    const memory = ['SIGABRT', 'SIGTRAP', 'SIGILL', '134', '133', '5'].includes(how)
    const error = memory && this.#atWork ? this.#atWork : report('engine/stopped', { detail: `its process ended (${how})` })
    const pending = [...this.#pending.values()]
    this.#pending.clear()
    const opened = this.#opened
    this.#reopening = (opened ? this.#send('open', [opened.files, opened.database]) : Promise.resolve())
      .catch(() => undefined)
      .then(() => {
        this.#reopening = null
        for (const { reject } of pending) reject(new HookError(error))
      })
  }
}
