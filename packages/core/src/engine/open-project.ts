import type { ProjectInfo } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import { tablesInOrder } from '../model/order.js'
import { checkRecords, recordFolders } from '../model/record-checks.js'
import type { Project } from '../model/types.js'
import { FixtureStores } from '../prove/fixtures/fixture-stores.js'
import { HookTally } from '../release/hook-tally.js'
import { releasesInUse } from '../release/release-store.js'
import { switchesIn } from '../release/switches.js'
import type { SaveEnvironment } from '../save/save.js'
import { CommitRecord } from '../store/commit-record.js'
import { Store } from '../store/database.js'
import { loadRecords } from '../store/records.js'
import { Snapshot } from '../store/snapshot.js'
import { Statistics } from '../store/statistics.js'
import { Checkpointer } from './checkpointer.js'
import { LiveCode } from './live-code.js'
import { LiveTables } from './live-tables.js'
import type { Runtime } from './runtime.js'
import { Runtimes } from './runtimes.js'

/** What an engine has open: the runtimes of a project's files, and the records that it saves to or tries on. */
export class OpenProject {
  readonly runtimes = new Runtimes()
  /** The live records, of the live engine only. */
  store: Store | null = null
  #checkpointer: Checkpointer | null = null
  #statistics: Statistics | null = null
  #commits: CommitRecord | null = null
  /** What runs on saves of the live records. */
  code: LiveCode | null = null
  /** What the caller knows of the project: only the changes are reported. */
  told: { info: ProjectInfo; files: ReadonlyMap<string, string> } | null = null
  readonly tally = new HookTally()
  /** Tells the caller of what happens on the way. */
  tell: (event: string, data: unknown) => void = () => {}
  #snapshot: Snapshot | null = null
  #snapshotOf: string | null = null
  /** The project's own data/, for a command that has no live records. */
  #data: Store | null = null
  readonly fixtures = new FixtureStores()
  #copied: { key: string; runtime: Runtime; code: LiveCode } | null = null

  /** The live records as an engine sees them that only reads. */
  liveTables(database: string): LiveTables {
    return (this.#liveTables ??= new LiveTables(database))
  }
  #liveTables: LiveTables | null = null

  /** SQLite's own errors in our words; others are given back as they are. */
  toHookError(error: unknown): unknown {
    return (this.store ?? this.#liveTables)?.toHookError(error) ?? error
  }

  get live(): Store {
    if (!this.store) throw new HookError('engine/failed', { reason: 'no database is open' })
    return this.store
  }

  /** @throws HookError */
  get liveCode(): LiveCode {
    if (!this.code) throw new HookError('engine/failed', { reason: 'no release is open' })
    return this.code
  }

  /** Takes the live records over. @throws HookError store/gap where some of them are missing */
  own(store: Store): void {
    // What is in memory is gone with the process.
    this.#commits = store.file === ':memory:' ? null : new CommitRecord(store)
    this.store = store
    this.#checkpointer = new Checkpointer(store)
    this.#statistics = new Statistics(store)
  }

  /** Lets the live records go. */
  disown(): void {
    this.#checkpointer?.close()
    this.#checkpointer = null
    this.#commits?.close()
    this.#commits = null
    this.#statistics = null
    this.store?.close()
    this.store = null
    this.code = null
  }

  /** To be called before a call is answered. */
  beforeAnswer(): void {
    this.#commits?.note()
  }

  /** To be called when a call has been answered. */
  afterCall(): void {
    this.#statistics?.afterWork()
    this.#checkpointer?.afterWork()
  }

  /** What would run on saves, with releases and switches as stored in the database. @throws HookError where one cannot be loaded */
  codeNow(working: Runtime = this.runtimes.saved): LiveCode {
    const { project } = working
    return new LiveCode({ project, runtime: working }, releasesInUse(this.live), switchesIn(this.live), this.code)
  }

  /** What runs on saves, read from the copy of the live records. @throws HookError where a release cannot be loaded */
  codeOnCopy(): LiveCode {
    if (this.code) return this.code
    const runtime = this.runtimes.saved
    const store = this.records(runtime.project)
    const [releases, switches] = [releasesInUse(store), switchesIn(store)]
    const key = JSON.stringify([releases.map(({ id, audience }) => [id, audience]), [...switches]])
    if (this.#copied?.key !== key || this.#copied.runtime !== runtime) {
      const code = new LiveCode({ project: runtime.project, runtime }, releases, switches, this.#copied?.code)
      this.#copied = { key, runtime, code }
    }
    return this.#copied.code
  }

  /** What is tried runs on copies of these live records; null: on the project's data/. */
  tryOn(database: string | null): void {
    if (database === this.#snapshotOf) return
    this.#snapshot?.close()
    this.#snapshot = database === null ? null : new Snapshot(database)
    this.#snapshotOf = database
  }

  /** Other files are open: what was loaded of the ones before goes. */
  forgetRecords(): void {
    this.fixtures.close()
    this.#data?.close()
    this.#data = null
  }

  /** Where something is tried. @param set a fixture set; default: the records */
  ground(runtime: Runtime, set: string | undefined): SaveEnvironment {
    const { project, program } = runtime
    return { project, program, store: set === undefined ? this.records(project) : this.fixtures.of(project, set) }
  }

  /** The records that are tried on where no fixture set is named. */
  records(project: Project): Store {
    if (this.store) return this.store
    if (this.#snapshot) return this.#snapshot.store()
    return (this.#data ??= dataStore(project))
  }

  close(): void {
    this.forgetRecords()
    this.#snapshot?.close()
    if (this.store) this.tally.write(this.store)
    this.disown()
  }
}

function dataStore(project: Project): Store {
  checkRecords(project, recordFolders(project, ['data/']))
  const store = new Store(':memory:')
  store.createTables(project)
  store.transaction(() => {
    for (const table of tablesInOrder(project.tables)) loadRecords(store, table, project.data.get(table.name) ?? [])
    return { value: undefined, keep: true }
  })
  return store
}
