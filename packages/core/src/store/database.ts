import Database from 'better-sqlite3'
import { HookError } from '../errors.js'
import { indexSql, tableSql } from '../model/ddl.js'
import { parentsFirst } from '../model/order.js'
import type { Project } from '../model/types.js'

/** The connection: opened, given its schema, with prepared statements kept and transactions that may nest. */

/** The application's own tables; a user's table never begins with ph_. */
const OWN_TABLES = `
CREATE TABLE IF NOT EXISTS ph_meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
CREATE TABLE IF NOT EXISTS ph_file (path TEXT PRIMARY KEY, text TEXT NOT NULL) STRICT;
CREATE TABLE IF NOT EXISTS ph_sequence (name TEXT PRIMARY KEY, next INTEGER NOT NULL) STRICT;
CREATE TABLE IF NOT EXISTS ph_save (
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, user TEXT NOT NULL, rows INTEGER NOT NULL, spent TEXT NOT NULL
) STRICT;
CREATE TABLE IF NOT EXISTS ph_history (
  id INTEGER PRIMARY KEY, save INTEGER NOT NULL, tbl TEXT NOT NULL, record INTEGER NOT NULL, event TEXT NOT NULL,
  depth INTEGER NOT NULL, cause TEXT NOT NULL, patch TEXT NOT NULL
) STRICT;
CREATE INDEX IF NOT EXISTS ph_history_record ON ph_history (record, tbl);
CREATE TABLE IF NOT EXISTS ph_outbox (
  id INTEGER PRIMARY KEY, save INTEGER NOT NULL, channel TEXT NOT NULL, payload TEXT NOT NULL, at TEXT NOT NULL,
  hook TEXT NOT NULL, delivered TEXT, tries INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX IF NOT EXISTS ph_outbox_waiting ON ph_outbox (delivered, id);
`

export class Store {
  readonly db: Database.Database
  readonly file: string
  readonly #statements = new Map<string, Database.Statement>()
  #depth = 0

  /** @param file a path, or `:memory:` @throws HookError store/damaged or store/locked */
  constructor(file: string) {
    this.file = file
    try {
      this.db = new Database(file, { timeout: 2000 })
      this.db.pragma('journal_mode = WAL')
      this.db.pragma('synchronous = NORMAL')
      this.db.pragma('foreign_keys = ON')
      this.db.exec(OWN_TABLES)
    } catch (error) {
      throw this.toHookError(error)
    }
  }

  /** Makes the tables of a project that are not there yet. */
  createTables(project: Project): void {
    const have = new Set(this.db.prepare(`SELECT name FROM sqlite_master WHERE type = 'table'`).pluck().all() as string[])
    for (const table of parentsFirst(project.tables.values())) {
      if (have.has(table.name)) continue
      this.db.exec(tableSql(table))
      for (const sql of indexSql(table)) this.db.exec(sql)
    }
    this.#statements.clear()
  }

  /** A prepared statement, kept for the next time. */
  prepare(sql: string): Database.Statement {
    let statement = this.#statements.get(sql)
    if (!statement) {
      statement = this.db.prepare(sql)
      this.#statements.set(sql, statement)
    }
    return statement
  }

  /** Forgets prepared statements, after a change of the schema. */
  forget(): void {
    this.#statements.clear()
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
      if (keep) this.db.exec(this.#depth === 1 ? 'COMMIT' : `RELEASE ${name}`)
      return done.value
    } catch (error) {
      keep = false
      throw this.toHookError(error)
    } finally {
      this.#depth--
      if (!keep && this.db.inTransaction) this.db.exec(this.#depth === 0 ? 'ROLLBACK' : `ROLLBACK TO ${name}; RELEASE ${name}`)
    }
  }

  /** A transaction in which tables may be made anew; what links to them is to be checked within the work. */
  withoutForeignKeys(work: () => void): void {
    this.db.pragma('foreign_keys = OFF')
    try {
      this.transaction(() => {
        work()
        return { value: undefined, keep: true }
      })
    } finally {
      this.db.pragma('foreign_keys = ON')
      this.#statements.clear()
    }
  }

  /** SQLite's own errors in our words; others are given back as they are. */
  toHookError(error: unknown): unknown {
    if (!(error instanceof Database.SqliteError)) return error
    const file = this.file
    if (error.code.startsWith('SQLITE_BUSY') || error.code.startsWith('SQLITE_LOCKED'))
      return new HookError('store/locked', { file })
    if (error.code === 'SQLITE_FULL' || error.code === 'SQLITE_IOERR_WRITE') return new HookError('store/full', { file })
    if (error.code === 'SQLITE_NOTADB' || error.code.startsWith('SQLITE_CORRUPT') || error.code.startsWith('SQLITE_CANTOPEN'))
      return new HookError('store/damaged', { file, detail: error.message })
    return new HookError('store/failed', { file, detail: `${error.message} (${error.code})` })
  }

  close(): void {
    this.db.close()
  }
}
