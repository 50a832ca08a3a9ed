import { chmodSync, existsSync } from 'node:fs'
import Database from 'better-sqlite3'
import { HookError } from '../errors.js'
import { indexSql, tableSql } from '../model/ddl.js'
import { tablesInOrder } from '../model/order.js'
import type { Project } from '../model/types.js'
import { bringUpToDate } from './own-tables/index.js'
import { inQuery } from '../watch.js'
import { SqlFunctions, type SetLookup } from './sql-functions.js'

/** The connection: opened, given its schema, with prepared statements kept and transactions that may nest. */

/** Milliseconds that a lock of another connection is waited for. */
const LOCK_WAIT = 2000

/** Memory of SQLite in this process, in bytes; of all its connections. */
const MOST_HEAP = 1024 * 2 ** 20

/** What SQLite calls synchronous = FULL. */
const FULL = 2

/** A database of another program is left as it is. @throws HookError store/foreign */
function checkOwn(db: Database.Database, file: string): void {
  const tables = db.prepare(`SELECT name FROM sqlite_master WHERE type = 'table'`).pluck().all() as string[]
  if (tables.length > 0 && !tables.includes('ph_meta')) throw new HookError('store/foreign', { file })
}

type Mode = 'rows' | 'objects' | 'values' | 'run'

export class Store {
  readonly db: Database.Database
  /** A path, or `:memory:`. */
  readonly file: string
  readonly #statements: Record<Mode, Map<string, Database.Statement>> = {
    rows: new Map(),
    objects: new Map(),
    values: new Map(),
    run: new Map(),
  }
  #depth = 0
  readonly #functions: SqlFunctions

  /**
   * @param file a path, or `:memory:`
   * @param from `contents`: the bytes of a database, opened in memory; `readonly`: nothing can be written
   * @throws HookError store/damaged, store/locked or store/newer
   */
  constructor(file: string, from: { contents?: Buffer; readonly?: boolean } = {}) {
    this.file = file
    const { contents, readonly = false } = from
    let db: Database.Database | undefined
    try {
      const isNew = file !== ':memory:' && !contents && !existsSync(file)
      db = new Database(contents ?? file, { timeout: LOCK_WAIT, readonly })
      // Records may be anybody's business but are not everybody's.
      if (isNew) chmodSync(file, 0o600)
      if (!isNew && !contents && file !== ':memory:') checkOwn(db, file)
      // No statement may make SQLite use more memory than this, in bytes.
      db.pragma(`hard_heap_limit = ${MOST_HEAP}`)
      if (!readonly) {
        if (!contents) db.pragma('journal_mode = WAL')
        // A save that was answered is still there after a power cut; memory has nothing to lose.
        db.pragma(contents || file === ':memory:' ? 'synchronous = OFF' : 'synchronous = FULL')
        db.pragma('foreign_keys = ON')
        if (!contents) bringUpToDate(db, file)
      }
      this.#functions = new SqlFunctions(db)
      this.db = db
    } catch (error) {
      db?.close()
      throw this.toHookError(error)
    }
  }

  /** Makes the tables of a project that are not there yet. */
  createTables(project: Project): void {
    const have = new Set(this.values(`SELECT name FROM sqlite_master WHERE type = 'table'`) as string[])
    for (const table of tablesInOrder(project.tables)) {
      if (have.has(table.name)) continue
      this.db.exec(tableSql(table))
      for (const sql of indexSql(table)) this.db.exec(sql)
    }
    this.forget()
  }

  #statement(mode: Mode, sql: string): Database.Statement {
    let statement = this.#statements[mode].get(sql)
    if (!statement) {
      statement = this.db.prepare(sql)
      if (mode === 'rows') statement.raw(true)
      if (mode === 'values') statement.pluck(true)
      this.#statements[mode].set(sql, statement)
    }
    return statement
  }

  /** Runs a statement, which has a deadline wherever an engine is watched (engine/watchdog.ts). */
  work<T>(run: () => T): T {
    return inQuery(run)
  }

  /** Rows as lists of their columns. */
  rows(sql: string, ...parameters: unknown[]): unknown[][] {
    return inQuery(() => this.#statement('rows', sql).all(...parameters) as unknown[][])
  }

  /** Rows as objects by column. */
  objects(sql: string, ...parameters: unknown[]): Record<string, unknown>[] {
    return inQuery(() => this.#statement('objects', sql).all(...parameters) as Record<string, unknown>[])
  }

  /** The first column of every row. */
  values(sql: string, ...parameters: unknown[]): unknown[] {
    return inQuery(() => this.#statement('values', sql).all(...parameters))
  }

  /** The first column of the first row; undefined where there is none. */
  one(sql: string, ...parameters: unknown[]): unknown {
    return inQuery(() => this.#statement('values', sql).get(...parameters))
  }

  run(sql: string, ...parameters: unknown[]): Database.RunResult {
    return inQuery(() => this.#statement('run', sql).run(...parameters))
  }

  /** A kept statement to be run over and over. */
  writer(sql: string): Database.Statement {
    return this.#statement('run', sql)
  }

  /** Does work whose SQL asks about the records of a set. */
  answering<T>(lookup: SetLookup, work: () => T): T {
    this.#functions.lookup = lookup
    try {
      return work()
    } finally {
      this.#functions.lookup = null
    }
  }

  /** Forgets kept statements, after a change of the schema. */
  forget(): void {
    for (const kept of Object.values(this.#statements)) kept.clear()
  }

  /**
   * Runs work in a transaction, or in a savepoint of the one that is open.
   * @param work returns `keep: false` to have everything rolled back
   * @throws whatever the work throws, after rolling back
   */
  transaction<T>(work: () => { value: T; keep: boolean }): T {
    const name = `ph_${this.#depth}`
    try {
      this.db.exec(this.#depth === 0 ? 'BEGIN IMMEDIATE' : `SAVEPOINT ${name}`)
    } catch (error) {
      throw this.toHookError(error)
    }
    this.#depth++
    let keep = false
    try {
      const done = work()
      keep = done.keep
      if (keep) inQuery(() => this.db.exec(this.#depth === 1 ? 'COMMIT' : `RELEASE ${name}`))
      if (keep && this.#depth === 1) this.#isSettled = !this.#isLazy
      return done.value
    } catch (error) {
      keep = false
      throw this.toHookError(error)
    } finally {
      this.#depth--
      if (!keep && this.db.inTransaction) this.db.exec(this.#depth === 0 ? 'ROLLBACK' : `ROLLBACK TO ${name}; RELEASE ${name}`)
    }
  }

  /**
   * Does work that can be done again. What it commits may be gone after a power cut, until anything else is committed: never in part, and
   * with it nothing that came before.
   */
  lazily<T>(work: () => T): T {
    if (this.#depth > 0 || this.db.pragma('synchronous', { simple: true }) !== FULL) return work()
    this.db.pragma('synchronous = NORMAL')
    this.#isLazy = true
    try {
      return work()
    } finally {
      this.#isLazy = false
      this.db.pragma('synchronous = FULL')
    }
  }

  /** Is all that was committed on the disk? Not while the last commit was a lazy one. */
  get isSettled(): boolean {
    return this.#isSettled
  }
  #isSettled = true
  #isLazy = false

  /** Tells whether anything was written meanwhile, through this connection or another: two that are the same say no. */
  mark(): string {
    return `${this.one('SELECT total_changes()') as number} ${this.db.pragma('data_version', { simple: true }) as number}`
  }

  /** A transaction in which tables may be rebuilt; what links to them is to be checked within the work. */
  withoutForeignKeys(work: () => void): void {
    this.db.pragma('foreign_keys = OFF')
    try {
      this.transaction(() => {
        work()
        return { value: undefined, keep: true }
      })
    } finally {
      this.db.pragma('foreign_keys = ON')
      this.forget()
    }
  }

  /** SQLite's own errors in our words; others are given back as they are. */
  toHookError(error: unknown): unknown {
    if (!(error instanceof Database.SqliteError)) return error
    const { file } = this
    const { code, message } = error
    if (code.startsWith('SQLITE_BUSY') || code.startsWith('SQLITE_LOCKED')) return new HookError('store/locked', { file })
    if (code === 'SQLITE_FULL' || code === 'SQLITE_IOERR_WRITE') return new HookError('store/full', { file })
    if (code.startsWith('SQLITE_READONLY')) return new HookError('store/readonly', { file })
    if (code.startsWith('SQLITE_CANTOPEN')) return new HookError('store/unopened', { file, reason: message })
    if (code === 'SQLITE_NOTADB' || code.startsWith('SQLITE_CORRUPT'))
      return new HookError('store/damaged', { file, reason: message })
    return new HookError('store/failed', { file, reason: `${message} (${code})` })
  }

  close(): void {
    this.db.close()
  }
}
