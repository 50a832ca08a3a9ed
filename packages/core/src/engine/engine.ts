import { HookError, type ErrorReport } from '../errors.js'
import { hookUses, parseHook } from '../findings/uses.js'
import { inferTable, type Inferred } from '../formats/infer-table.js'
import { parseProject } from '../model/project.js'
import { editOf, type TableEdit } from '../model/table-edit.js'
import { parseTable } from '../model/table-file.js'
import { parentsFirst } from '../model/order.js'
import { declarations } from '../model/declarations.js'
import type { HookState, Table } from '../model/types.js'
import { fixtureStore, runTests, type TestResult } from '../prove/run-tests.js'
import { makeSheet, type Sheet, type SheetRequest } from '../rehearse/sheet.js'
import { trySave, type SaveEnvironment, type SaveOutcome } from '../save/save.js'
import type { EventName, InputRow, Moment, SaveOptions } from '../save/types.js'
import { Store } from '../store/database.js'
import { loadRecords } from '../store/records.js'
import { listMessages, noteTry, waiting } from './outbox.js'
import { changeModel, planModel, type ModelEdit, type ModelPlan } from './model-change.js'
import { choicesFor, listRecords, readRecord } from './records.js'
import type { Runtime } from './runtime.js'
import { Runtimes } from './runtimes.js'

/**
 * The one object that a thread with a database talks to. It lives in the worker (engine/worker.ts); every method takes
 * and gives plain data.
 */

export interface HookInfo {
  name: string
  plugin: string
  file: string
  table: string
  moment: Moment
  on: EventName[]
  watch: string[]
  after: string[]
  parts: string[]
  /** Fields of its own table that its code reads and writes. */
  reads: string[]
  writes: string[]
  /** Every field that its code reads or writes, of any table. */
  uses: { table: string; field: string; kind: 'read' | 'write' }[]
  state: HookState
}
export interface ProjectInfo {
  name: string
  title: string
  users: { name: string; title: string }[]
  tables: Table[]
  plugins: { name: string; version: string; description: string; tests: string[]; lib: string[] }[]
  /** In save-path order within a table and moment. */
  hooks: HookInfo[]
  fixtures: { name: string; tables: Record<string, number> }[]
  sequences: string[]
  batchSize: number
}
export type Drafts = Record<string, string>
/** Where a rehearsal or a sheet runs: on a fixture set, or on the live records. */
export interface Ground {
  fixtures?: string
  /** Texts of files as they stand in an editor, over those that are saved. */
  drafts?: Drafts
}

export class Engine {
  readonly #runtimes: Runtimes
  #store: Store | null = null
  readonly #fixtureStores = new Map<string, Store>()

  constructor(
    cells?: Int32Array,
    private readonly tell: (event: string, data: unknown) => void = () => {},
  ) {
    this.#runtimes = new Runtimes(cells, tell)
  }

  /** Opens a project's files; with `database`, the application's file, filled from them when it is new. */
  open(files: Drafts, database?: string): ProjectInfo {
    this.close()
    let texts = new Map(Object.entries(files))
    if (database !== undefined) {
      const store = new Store(database)
      this.#store = store
      const kept = store.prepare('SELECT path, text FROM ph_file').raw(true).all() as [string, string][]
      if (kept.length > 0) texts = new Map(kept)
      const project = parseProject(texts)
      store.transaction(() => {
        store.createTables(project)
        if (kept.length === 0) {
          for (const [path, text] of texts) store.prepare('INSERT INTO ph_file (path, text) VALUES (?, ?)').run(path, text)
          for (const table of parentsFirst(project.tables.values())) loadRecords(store, table, project.data.get(table.name) ?? [])
        }
        return { value: undefined, keep: true }
      })
    }
    this.#runtimes.use(this.#runtimes.make(texts))
    return this.info()
  }

  close(): void {
    this.#forgetFixtures()
    this.#store?.close()
    this.#store = null
  }

  get #ready(): Runtime {
    return this.#runtimes.saved
  }

  get #live(): Store {
    if (!this.#store) throw new HookError('engine/stopped', { detail: 'no database is open' })
    return this.#store
  }

  #ground(runtime: Runtime, set: string | undefined): SaveEnvironment {
    const { project, program } = runtime
    if (set === undefined) return { project, program, store: this.#live }
    let store = this.#fixtureStores.get(set)
    if (!store) this.#fixtureStores.set(set, (store = fixtureStore(project, set)))
    return { project, program, store }
  }

  #forgetFixtures(): void {
    for (const store of this.#fixtureStores.values()) store.close()
    this.#fixtureStores.clear()
  }

  info(): ProjectInfo {
    const { project, program } = this.#ready
    const order = [...project.tables.keys()].flatMap((table) =>
      (['before-save', 'after-save', 'before-commit'] as const).flatMap((moment) => program.at(table, moment)),
    )
    return {
      name: project.name,
      title: project.title,
      users: [...project.users],
      tables: [...project.tables.values()],
      plugins: [...project.plugins.values()].map(({ name, version, description, tests, lib }) => ({
        name,
        version,
        description,
        tests: [...tests],
        lib: [...lib],
      })),
      hooks: order.map((hook) => ({
        ...this.#uses(hook.file, hook.table),
        name: hook.name,
        plugin: hook.plugin,
        file: hook.file,
        table: hook.table,
        moment: hook.moment,
        on: [...hook.on],
        watch: [...hook.watchNames],
        after: [...hook.after],
        parts: [...hook.parts.keys()].filter((part) => part !== ''),
        state: hook.state,
      })),
      fixtures: [...project.fixtures].map(([name, tables]) => ({
        name,
        tables: Object.fromEntries([...tables].map(([table, rows]) => [table, rows.length])),
      })),
      sequences: [...project.sequences.keys()],
      batchSize: project.batchSize,
    }
  }

  #uses(file: string, table: string): Pick<HookInfo, 'reads' | 'writes' | 'uses'> {
    const found = hookUses(parseHook(file, this.#runtimes.files.get(file) ?? '')).uses
    const own = (kind: 'read' | 'write') => [
      ...new Set(found.filter((use) => use.kind === kind && use.table === table && use.of !== 'other').map((use) => use.field)),
    ]
    const uses = new Map(found.map(({ table: of, field, kind }) => [`${of}.${field} ${kind}`, { table: of, field, kind }]))
    return { reads: own('read'), writes: own('write'), uses: [...uses.values()] }
  }

  declarations(): string {
    return declarations(this.#ready.project)
  }

  file(path: string): string {
    const text = this.#runtimes.files.get(path)
    if (text === undefined) throw new HookError('project/missing-file', { file: path })
    return text
  }

  files(): Drafts {
    return Object.fromEntries(this.#runtimes.files)
  }

  /** Keeps files of the project, and from the next save on they are what runs. Nothing is kept when one is wrong. */
  putFiles(changed: Drafts): ProjectInfo {
    const files = new Map([...this.#runtimes.files, ...Object.entries(changed)])
    const runtime = this.#runtimes.make(files)
    if (this.#store) {
      this.#store.transaction(() => {
        this.#keep(new Map(Object.entries(changed)))
        return { value: undefined, keep: true }
      })
    }
    this.#runtimes.use(runtime)
    this.#forgetFixtures()
    return this.info()
  }

  /** What a change of the model would do to records, fixtures and code. */
  planModel(edit: ModelEdit, code = true): ModelPlan {
    return planModel(this.#ready.project, this.#live, edit, (files) => this.#runtimes.make(files), code)
  }

  /** Changes the model and moves the records. @throws HookError with the reason; nothing is changed then */
  changeModel(edit: ModelEdit, accept: boolean, user?: string): ProjectInfo {
    const store = this.#live
    const runtime = changeModel(this.#ready.project, store, edit, (files) => this.#runtimes.make(files), {
      accept,
      user,
      putFiles: (files) => this.#keep(files),
    })
    this.#runtimes.use(runtime)
    this.#forgetFixtures()
    return this.info()
  }

  /** A table from a CSV file, to be corrected. */
  inferTable(name: string, file: string, text: string): Inferred {
    const { project } = this.#ready
    return inferTable(name, file, text, (table) =>
      project.tables.has(table) ? new Set(this.#live.db.prepare(`SELECT "id" FROM "${table}"`).pluck().all() as number[]) : null,
    )
  }

  /** A table from a JSON Schema, to be looked at. @throws HookError naming the path within it */
  readSchema(name: string, text: string): TableEdit {
    const { fields, ...edit } = editOf(parseTable(`${name}.json`, text))
    return { ...edit, name, fields: fields.map((field) => ({ ...field, was: null })) }
  }

  #keep(files: ReadonlyMap<string, string | null>): void {
    const put = this.#live.prepare(
      'INSERT INTO ph_file (path, text) VALUES (?, ?) ON CONFLICT (path) DO UPDATE SET text = excluded.text',
    )
    const remove = this.#live.prepare('DELETE FROM ph_file WHERE path = ?')
    for (const [path, text] of files)
      if (text === null) remove.run(path)
      else put.run(path, text)
  }

  save(rows: InputRow[], options: SaveOptions): SaveOutcome {
    return trySave(this.#ground(this.#ready, undefined), rows, { returnRecords: true, ...options })
  }

  rehearse(ground: Ground, rows: InputRow[], options: SaveOptions): SaveOutcome {
    const runtime = this.#runtimes.with(ground.drafts)
    return trySave(this.#ground(runtime, ground.fixtures), rows, {
      returnRecords: true,
      ...options,
      rehearse: true,
      record: true,
    })
  }

  sheet(ground: Ground, request: SheetRequest): Sheet {
    const runtime = this.#runtimes.with(ground.drafts, true)
    return makeSheet({ ...this.#ground(runtime, ground.fixtures), probe: runtime.probe }, request)
  }

  /** @param done tests that have run already, before the worker had to be started again */
  tests(drafts: Drafts | undefined, only: string[] | undefined, done: { file: string; name: string }[]): TestResult[] {
    const runtime = this.#runtimes.with(drafts)
    const finished = new Set(done.map(({ file, name }) => `${file}\n${name}`))
    return runTests(
      runtime,
      (file, name) => (!only || only.includes(file)) && !finished.has(`${file}\n${name}`),
      (file, name, line) => this.tell('test', { file, name, line }),
      (result) => this.tell('result', result),
    )
  }

  list(table: string, options: Parameters<typeof listRecords>[3]) {
    return listRecords(this.#ready.project, this.#live, table, options)
  }

  record(table: string, id: number) {
    return readRecord(this.#ready.project, this.#live, table, id)
  }

  outboxWaiting(limit: number) {
    return waiting(this.#live, limit)
  }

  outbox(offset: number, limit: number) {
    return listMessages(this.#live, offset, limit)
  }

  outboxTried(id: number, delivered: string | null): void {
    noteTry(this.#live, id, delivered)
  }

  choices(table: string, text: string) {
    return choicesFor(this.#ready.project, this.#live, table, text)
  }
}

export type EngineMethod = Exclude<
  { [K in keyof Engine]: Engine[K] extends (...values: never[]) => unknown ? K : never }[keyof Engine],
  never
>
export type { ErrorReport }
