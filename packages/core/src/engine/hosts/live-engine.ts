import { randomUUID } from 'node:crypto'
import { existsSync } from 'node:fs'
import type {
  BackfillInfo,
  BackfillLeft,
  BackfillWish,
  Files,
  InputRow,
  ModelEdit,
  ProjectChange,
  ProjectInfo,
  ReleaseInfo,
} from '@patient-hook/contract'
import { withProjectChange } from '@patient-hook/contract/project-change'
import { PART, type FileRow } from '../../backfill/backfill-store.js'
import { HookError, report } from '../../errors.js'
import { withChanges } from '../../model/files.js'
import type { SaveOutcome } from '../../save/save.js'
import type { SaveOptions } from '../../save/types.js'
import type { CallName, CallResult, CallValues } from '../calls/index.js'
import type { CompiledAhead } from '../calls/compiling.js'
import type { Opened } from '../calls/opening.js'
import type { Told } from '../calls/project.js'
import type { ReleaseWish } from '../calls/releasing.js'
import type { EngineProcess } from './engine-process.js'
import { Fuses } from './fuses.js'
import type { AskedOnce } from '../../store/answers.js'
import type { Spares } from './spares.js'

/**
 * The one engine that writes the live records. Calls go to it in sequence. When it has to be stopped, another one opens the
 * same file and continues with those that had not begun; the one at work is answered with the error, and with whether it was kept.
 */

interface Waiting {
  call: string
  values: unknown[]
  /** Names a call that changes something. */
  token: string | null
  resolve: (json: string | undefined) => void
  reject: (error: unknown) => void
}

const URGENT: ReadonlySet<string> = new Set(['switchHook', 'stepBackTo', 'setAudience'])
const isSave = (call: string): boolean => call === 'save' || call === 'saveOnce'
/** By hook, rows that it ran for. */
const ranIn = (json: string): Record<string, number> => {
  const { ran, error } = JSON.parse(json) as Pick<SaveOutcome, 'ran' | 'error'>
  return error ? {} : ran
}

/** What is reported while an application opens. */
export interface OnTheWay {
  /** The engine's process has begun, and opens the file. */
  started(): void
  /** All is well with the project's files; the engine is not ready yet. */
  loaded(files: Files): void
}

/** @param change how the project came to what it is; null where that is not known */
type Listener = (change: ProjectChange | null) => void

/** Rows that could not be read: how many, and the problems with the first of them. */
interface Unread {
  unread: number
  left: BackfillLeft[]
}
/** Rows of a file that are handed over at a time; whole parts. */
const STAGED = 5 * PART

export class LiveEngine {
  #engine: EngineProcess | null = null
  readonly #waiting: Waiting[] = []
  #going = false
  #closed = false
  readonly fuses = new Fuses()
  /** Has files compiled elsewhere, so that saves do not wait for it. @throws HookError with everything that is wrong with them */
  compileAhead: (changed: Record<string, string | null>) => Promise<CompiledAhead | null> = async () => null
  /** Told when a hook is paused. */
  onPaused: (hook: string) => void = () => {}
  #opened!: Opened
  #info: ProjectInfo | null = null
  #learning: Promise<void> | null = null
  #files: ReadonlyMap<string, string> = new Map()
  readonly #listeners = new Set<Listener>()

  private constructor(
    private readonly spares: Spares,
    readonly database: string,
  ) {}

  /**
   * Opens the application's file.
   * @param files those of a new one; asked for only where the file has none
   * @throws HookError store/… or project/…; nothing is left running then
   */
  static async open(spares: Spares, database: string, files: () => Files, onTheWay: Partial<OnTheWay> = {}): Promise<LiveEngine> {
    const live = new LiveEngine(spares, database)
    try {
      await live.#start(files, onTheWay)
      // The caller gets the error, and asks again.
      live.known().catch(() => {})
    } catch (error) {
      await live.close()
      await spares.close()
      throw error
    }
    return live
  }

  /** To be asked for when `known` has settled. @throws HookError where it has not */
  get info(): ProjectInfo {
    if (!this.#info) throw new HookError('engine/failed', { reason: 'the project is not known yet' })
    return this.#info
  }
  /** The project's files, path to text. The map is another one after each change. */
  get files(): ReadonlyMap<string, string> {
    return this.#files
  }
  /** Tells this database from another at the same path. */
  get databaseName(): string {
    return this.#opened.database
  }
  /** For tests that end it. */
  get pid(): number | undefined {
    return this.#engine?.pid
  }

  /** Called after each change of the project. @returns stops the listening */
  listen(tell: Listener): () => void {
    this.#listeners.add(tell)
    return () => void this.#listeners.delete(tell)
  }

  #tellAll(change: ProjectChange | null): void {
    for (const tell of this.#listeners) tell(change)
  }

  async #start(files: (() => Files) | null, onTheWay: Partial<OnTheWay> = {}): Promise<EngineProcess> {
    const engine = this.spares.take()
    const open = (texts: Files | null) =>
      engine.callTelling('openDatabase', [this.database, texts], (_, told) => onTheWay.loaded?.(told as Files))
    try {
      // Where there is no database yet, its files are read while the process begins.
      const texts = files && !existsSync(this.database) ? files() : null
      await engine.started
      onTheWay.started?.()
      let opened = await open(texts)
      if (!opened && files) opened = await open(files())
      if (!opened) throw new HookError('store/mismatch', { file: this.database, reason: 'it holds no project any more' })
      this.#opened = opened
      this.#files = new Map(Object.entries(opened.files))
    } catch (error) {
      await engine.close()
      throw error
    }
    this.#engine = engine
    return engine
  }

  /** Settles when `info` is there, which is asked for as soon as the application is open. @throws HookError engine/… */
  known(): Promise<void> {
    if (this.#info) return Promise.resolve()
    this.#learning ??= this.#learn().finally(() => (this.#learning = null))
    return this.#learning
  }

  async #learn(): Promise<void> {
    this.#info = await this.call('projectInfo')
  }

  save(rows: InputRow[], options: SaveOptions = {}): Promise<SaveOutcome> {
    const token = randomUUID()
    return this.#call('save', [rows, { ...options, token }], token)
  }

  /** Saves once under a name that the caller gave, however often it is asked for. @throws HookError access/name-taken */
  saveOnce(rows: InputRow[], options: SaveOptions, asked: AskedOnce): Promise<SaveOutcome> {
    const token = randomUUID()
    return this.#call('saveOnce', [rows, { ...options, token }, asked], token)
  }

  /** Keeps files; null removes one. @throws HookError with everything that is wrong; nothing is kept then */
  async putFiles(changed: Record<string, string | null>, from: Record<string, string | null> = {}): Promise<ProjectChange> {
    const token = randomUUID()
    const ahead = await this.compileAhead(changed)
    return this.#changed(await this.#call('putFiles', [changed, token, ahead, from], token))
  }

  /** @throws HookError with the reason; nothing is changed then */
  async changeModel(edit: ModelEdit, accept: boolean, user?: string): Promise<ProjectChange> {
    const token = randomUUID()
    return this.#changed(await this.#call('changeModel', [edit, accept, user, token], token))
  }

  /** Releases working copies of plugins. @throws HookError release/…; nothing is released then */
  async release(wish: ReleaseWish): Promise<ReleaseInfo[]> {
    const token = randomUUID()
    const { releases, ...told } = await this.#call('release', [wish, token], token)
    this.fuses.reset()
    await this.#changed(told)
    return releases
  }

  /** @param audience null: everyone; none: undone @throws HookError release/… */
  setAudience(id: number, audience: string[] | null, user: string): Promise<ReleaseInfo> {
    const token = randomUUID()
    return this.#unpausing(this.#call('setAudience', [id, audience, user, token], token))
  }

  /** @param to the release whose text is released again; null: the one before @throws HookError release/… */
  stepBack(plugin: string, to: number | null, user: string): Promise<ReleaseInfo> {
    const token = randomUUID()
    return this.#unpausing(this.#call('stepBackTo', [plugin, to, user, token], token))
  }

  /** @param state null: as its release says @throws HookError release/bad */
  switchHook(hook: string, state: 'on' | 'off' | null, user: string): Promise<void> {
    const token = randomUUID()
    return this.#unpausing(this.#call('switchHook', [hook, state, user, token], token), hook)
  }

  /** What a paused hook is, and whether it runs, is another matter now. @param hook default: all */
  async #unpausing<T>(change: Promise<T>, hook?: string): Promise<T> {
    const done = await change
    this.fuses.reset(hook)
    return done
  }

  /** @throws HookError backfill/bad */
  beginBackfill(wish: BackfillWish, user: string): Promise<BackfillInfo> {
    const token = randomUUID()
    return this.#call('beginBackfill', [wish, user, token], token)
  }

  /** @param rows numbered as in their file @throws HookError project/unknown-table */
  async beginRows(wish: BackfillWish, user: string, rows: readonly FileRow[], unread: Unread): Promise<BackfillInfo> {
    let stage: number | null = null
    // In parts, between which saves come through.
    for (let from = 0; from < rows.length; from += STAGED)
      stage = await this.call('stageRows', stage, from / PART, rows.slice(from, from + STAGED))
    const token = randomUUID()
    return this.#call('beginRows', [wish, user, { stage: stage ?? -1, total: rows.length, ...unread }, token], token)
  }

  /** @throws HookError backfill/unknown or backfill/state */
  undoBackfill(id: number, user: string): Promise<BackfillInfo> {
    const token = randomUUID()
    return this.#call('undoBackfill', [id, user, token], token)
  }

  async #changed({ change, files }: Told): Promise<ProjectChange> {
    // A restarted engine reports another revision.
    const info = (this.#info && withProjectChange(this.#info, change)) ?? (await this.call('projectInfo'))
    this.#info = info
    this.#files = withChanges(this.#files, files)
    this.#tellAll(info.revision === change.revision ? change : null)
    return change
  }

  /** A call that changes nothing that could not be done twice. */
  call<N extends CallName>(call: N, ...values: CallValues<N>): Promise<CallResult<N>> {
    return this.#call(call, values, null)
  }

  async #call<N extends CallName>(call: N, values: CallValues<N>, token: string | null): Promise<CallResult<N>> {
    const json = await new Promise<string | undefined>((resolve, reject) => {
      if (this.#closed) return reject(new HookError('engine/closed'))
      this.#waiting.push({ call, values, token, resolve, reject })
      void this.#go()
    })
    return (json === undefined ? undefined : JSON.parse(json)) as CallResult<N>
  }

  async #go(): Promise<void> {
    if (this.#going) return
    this.#going = true
    while (this.#waiting.length > 0 && !this.#closed) {
      const { call, values, token, resolve, reject } = this.#waiting.shift()!
      let engine: EngineProcess
      try {
        engine = await this.#ready()
      } catch (error) {
        reject(error)
        continue
      }
      try {
        const json = await engine.callText(call, isSave(call) ? this.#withPaused(values) : values)
        if (json !== undefined && this.fuses.isAnyBlown && isSave(call)) this.fuses.ran(Object.keys(ranIn(json)))
        resolve(json)
      } catch (error) {
        // A user who turns a hook off does not wait behind the saves that it holds up.
        if (!engine.alive) this.#waiting.sort((a, b) => Number(URGENT.has(b.call)) - Number(URGENT.has(a.call)))
        if (!engine.alive && HookError.is(error) && error.report.hook !== undefined && this.fuses.stopped(error.report.hook))
          this.onPaused(error.report.hook)
        reject(engine.alive ? error : await this.#afterDeath(error, token, { call, values }))
      }
    }
    this.#going = false
  }

  #withPaused(values: unknown[]): unknown[] {
    const paused = this.fuses.refusing()
    if (paused.length === 0) return values
    const [rows, options, ...more] = values
    return [rows, { ...(options as SaveOptions), paused }, ...more]
  }

  /** The engine, started again where the one before has ended. @throws HookError where the file cannot be opened now */
  async #ready(): Promise<EngineProcess> {
    if (this.#engine?.alive) return this.#engine
    this.#engine = null
    const engine = await this.#start(null)
    this.#info = await engine.call('projectInfo')
    this.spares.refill()
    this.#tellAll(null)
    return engine
  }

  /** What is reported to anyone who was at work when the engine ended. */
  async #afterDeath(error: unknown, token: string | null, { call, values }: Pick<Waiting, 'call' | 'values'>): Promise<unknown> {
    if (!(error instanceof HookError)) return error
    if (token === null) return error
    try {
      const engine = await this.#ready()
      const kept = await engine.call('wasKept', token)
      if (!kept && isSave(call))
        await engine.call('noteFailedSave', values[0] as InputRow[], values[1] as SaveOptions, error.report)
      return new HookError({ ...(kept ? report('engine/stopped-after') : error.report), kept })
    } catch {
      // It may have been carried out: that cannot be found out now.
      const { hook, file, line, table, row, id } = error.report
      return new HookError('engine/stopped-unknown', { reason: error.message, hook, file, line, table, row, id })
    }
  }

  async close(): Promise<void> {
    this.#closed = true
    for (const waiting of this.#waiting.splice(0)) waiting.reject(new HookError('engine/closed'))
    await this.#engine?.close()
  }
}
