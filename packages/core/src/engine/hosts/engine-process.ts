import { fork, type ChildProcess } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { HookError, type ErrorReport } from '../../errors.js'
import type { CallName, CallResult, CallValues } from '../calls/index.js'
import { ENGINE_ENVIRONMENT, ENGINE_FLAGS, type EngineLimits, type FromEngine, type ToEngine } from '../protocol.js'

/** One engine seen from outside: a process that does one call at a time, until it dies or is closed. */

interface AtWork {
  id: number
  resolve: (json: string | undefined) => void
  reject: (error: HookError) => void
  onEvent: (event: string, data: unknown) => void
}

/** What V8 ends with when memory is used up where that cannot be caught: a signal, or the exit code that represents it. */
const OUT_OF_MEMORY = ['SIGABRT', 'SIGTRAP', 'SIGILL', '134', '133', '132', '5']

export class EngineProcess {
  /** Settles when the engine may be asked, or will never be; to be waited for before a call. */
  started: Promise<void>
  /** The owner of the engines may note here what this one has open. */
  open: ReadonlyMap<string, string> | null = null
  #child: ChildProcess
  #call: AtWork | null = null
  #nextId = 1
  #atWork: ErrorReport | null = null
  #dead: string | null = null
  #onDeath: () => void = () => {}

  constructor(limits: EngineLimits) {
    const child = fork(fileURLToPath(new URL('../process.js', import.meta.url)), [JSON.stringify(limits)], {
      serialization: 'advanced',
      execArgv: [...ENGINE_FLAGS],
      env: { ...process.env, ...ENGINE_ENVIRONMENT },
      // What V8 prints when it runs out of memory is shown again in our own words.
      stdio: ['ignore', 'inherit', process.env['PATIENT_HOOK_STDERR'] ? 'inherit' : 'ignore', 'ipc'],
    })
    this.#child = child
    this.started = new Promise((done) => {
      const ready = (message: FromEngine) => {
        if (!('ready' in message)) return
        child.off('message', ready)
        done()
      }
      child.on('message', ready)
      child.once('exit', () => done())
    })
    child.on('message', (message: FromEngine) => this.#onMessage(message))
    child.on('exit', (code, signal) => this.#died(signal ?? String(code)))
    // A send that fails, or a process that cannot be made: it is as good as dead.
    child.on('error', (error) => {
      child.kill('SIGKILL')
      if (child.pid === undefined) this.#died(error.message)
    })
  }

  get alive(): boolean {
    return this.#dead === null
  }
  get busy(): boolean {
    return this.#call !== null
  }
  /** For tests that end it. */
  get pid(): number | undefined {
    return this.#child.pid
  }

  set onDeath(tell: () => void) {
    this.#onDeath = tell
    if (!this.alive) tell()
  }

  /** @throws HookError what the engine threw, or why it was stopped */
  call<N extends CallName>(call: N, ...values: CallValues<N>): Promise<CallResult<N>> {
    return this.callTelling(call, values)
  }

  /** The same, with what the engine tells on the way. */
  async callTelling<N extends CallName>(call: N, values: CallValues<N>, onEvent?: AtWork['onEvent']): Promise<CallResult<N>> {
    const json = await this.callText(call, values, onEvent)
    return (json === undefined ? undefined : JSON.parse(json)) as CallResult<N>
  }

  /** The answer as it came, in JSON, for those who only hand it on. @throws HookError as call does */
  callText(call: string, values: unknown[], onEvent: AtWork['onEvent'] = () => {}): Promise<string | undefined> {
    if (this.#call) throw new Error('an engine does one call at a time')
    const id = this.#nextId++
    return new Promise((resolve, reject) => {
      if (this.#dead !== null) return reject(this.#deathError())
      this.#call = { id, resolve, reject, onEvent }
      this.#send({ id, call, values })
    })
  }

  /** The client disconnected: the call at work ends soon, with its process if need be. */
  cancel(): void {
    if (this.#call && this.alive) this.#send({ cancel: this.#call.id })
  }

  kill(): void {
    this.#child.kill('SIGKILL')
  }

  async close(): Promise<void> {
    if (!this.alive) return
    this.#onDeath = () => {}
    const ended = new Promise((done) => this.#child.once('exit', done))
    if (this.busy || !this.#child.connected) this.kill()
    else this.#child.disconnect()
    await ended
  }

  #send(message: ToEngine): void {
    // The callback takes what a closed channel throws; the end of the process tells the rest.
    if (this.#child.connected) this.#child.send(message, (error) => error && this.kill())
    else this.kill()
  }

  #onMessage(message: FromEngine): void {
    if ('atWork' in message) {
      this.#atWork = message.atWork
      return
    }
    if (!('id' in message) || message.id !== this.#call?.id) return
    if ('event' in message) return this.#call.onEvent(message.event, message.data)
    const { resolve, reject } = this.#call
    this.#call = null
    this.#atWork = null
    if ('error' in message) {
      // The process ends alone; until then nobody must be given to it.
      if (message.dying) this.#died('stopped')
      reject(new HookError(message.error))
    } else resolve(message.json)
  }

  #deathError(): HookError {
    const reason = `its process ended (${this.#dead})`
    const atWork = this.#atWork
    if (!atWork) return new HookError('engine/stopped', { reason })
    if (OUT_OF_MEMORY.includes(this.#dead ?? '')) return new HookError(atWork)
    const { hook, file, line, table, row, id } = atWork
    return new HookError('engine/stopped', { reason, hook, file, line, table, row, id })
  }

  #died(how: string): void {
    if (this.#dead !== null) return
    this.#dead = how
    const call = this.#call
    this.#call = null
    this.#onDeath()
    call?.reject(this.#deathError())
  }
}
