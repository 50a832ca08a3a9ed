import { randomUUID } from 'node:crypto'
import { chmodSync, closeSync, copyFileSync, existsSync, fsyncSync, openSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import Database from 'better-sqlite3'
import { HookError } from '../errors.js'
import { carryOver, type CarriedOver } from './carry-over.js'
import { forgetCommits } from './commit-record.js'
import { Store } from './database.js'
import { NEWEST } from './own-tables/index.js'

/** Backups of the application's file: made while it runs, by SQLite's own way; checked, and put in its place again. */

/** Pages that are copied before others get a turn: about four megabytes. */
const PAGES = 1000
/** SQLite's own files beside a database. */
const BESIDE = ['-wal', '-shm']

/**
 * Copies the records as they stand when it begins, page by page, through a connection that only reads: saves go on meanwhile. The file
 * has its name only once it is whole, checked and on the disk.
 * @param onProgress is reported pages that are done, and all
 * @throws HookError store/full, store/damaged or request/cancelled; nothing is left behind then
 */
export async function backUp(
  database: string,
  target: string,
  onProgress: (done: number, total: number) => void = () => {},
  signal?: AbortSignal,
): Promise<void> {
  const source = new Store(database, { readonly: true })
  const part = `${target}.part`
  try {
    // An open read keeps the copy at this moment, however much is saved while it is made.
    source.db.exec('BEGIN')
    source.one('SELECT count(*) FROM sqlite_master')
    // Only who owns the folder reads it.
    writeFileSync(part, '', { mode: 0o600 })
    await source.db.backup(part, {
      progress: ({ totalPages, remainingPages }) => {
        if (signal?.aborted) throw new HookError('request/cancelled')
        onProgress(totalPages - remainingPages, totalPages)
        return PAGES
      },
    })
    checkBackup(part)
    settle(part)
    renameSync(part, target)
    settle(dirname(target))
  } catch (error) {
    rmSync(part, { force: true })
    throw source.toHookError(error)
  } finally {
    source.close()
  }
}

/** Is it a whole file of records, of this version or an earlier one? @throws HookError store/bad-backup */
export function checkBackup(file: string): void {
  const bad = (reason: string) => new HookError('store/bad-backup', { file, reason })
  if (!existsSync(file)) throw bad('it is not there')
  let db: Database.Database | undefined
  try {
    db = new Database(file, { readonly: true, fileMustExist: true })
    const said: unknown = db.pragma('quick_check(1)', { simple: true })
    if (said !== 'ok') throw bad(String(said))
    const tables = db.prepare(`SELECT count(*) FROM sqlite_master WHERE name IN ('ph_file', 'ph_save', 'ph_meta')`).pluck()
    if (tables.get() !== 3) throw bad('it is a database, but none of this application')
    const number = db.pragma('user_version', { simple: true }) as number
    if (number > NEWEST) throw bad(`a newer version of the application wrote it (${number}; this one knows ${NEWEST})`)
    if (db.prepare('SELECT count(*) FROM ph_file').pluck().get() === 0) throw bad('it holds no project')
  } catch (error) {
    throw error instanceof Database.SqliteError ? bad(`${error.message} (${error.code})`) : error
  } finally {
    db?.close()
    for (const ending of BESIDE) rmSync(file + ending, { force: true })
  }
}

/**
 * Replaces the records with a backup; the previous ones are stored under another name.
 * @throws HookError store/bad-backup; the records are untouched then
 */
export function restoreBackup(file: string, database: string): Restored {
  checkBackup(file)
  // What is in the log goes into the file first: the two belong together.
  const isSound = existsSync(database) && settleLog(database)
  const part = `${database}.restored`
  copyFileSync(file, part)
  chmodSync(part, 0o600)
  let carried: CarriedOver | null = null
  try {
    carried = asOfNow(part, isSound ? database : null)
    settle(part)
  } catch (error) {
    rmSync(part, { force: true })
    throw error
  }
  let aside: string | null = null
  if (existsSync(database)) {
    aside = join(dirname(database), `records-before-restore-${stamp(new Date())}.db`)
    renameSync(database, aside)
  }
  for (const ending of BESIDE) rmSync(database + ending, { force: true })
  renameSync(part, database)
  forgetCommits(database)
  settle(dirname(database))
  return { aside, carried }
}

/** What became of a restore. */
export interface Restored {
  /** Where the records of before are; null where there were none. */
  aside: string | null
  /** What was taken over from them; null where there were none, or they cannot be read. */
  carried: CarriedOver | null
}

/** @returns false where the file cannot be read: a backup is restored for that, too */
function settleLog(database: string): boolean {
  try {
    const store = new Store(database)
    store.db.pragma('wal_checkpoint(TRUNCATE)')
    store.close()
    return true
  } catch (error) {
    if (HookError.is(error) && error.code === 'store/damaged') return false
    throw error
  }
}

/**
 * What ran when the backup was made does not go on alone; and messages that are sent from now on are others than those that were sent
 * after the backup under the same numbers, which anyone who receives them tells by the database's name.
 */
function asOfNow(file: string, before: string | null): CarriedOver | null {
  const store = new Store(file)
  try {
    const carried = before === null ? null : carryOver(store, before)
    store.run(`UPDATE ph_backfill SET state = 'paused' WHERE state = 'running'`)
    store.run(`UPDATE ph_meta SET value = ? WHERE key = 'database'`, randomUUID())
    store.db.pragma('journal_mode = DELETE')
    return carried
  } finally {
    store.close()
  }
}

/** For a file's name: a moment, such that the order of names is that of time. */
export const stamp = (at: Date): string => at.toISOString().slice(0, 23).replace(/[-:.]/g, '')

/** On the disk, not only on its way there. */
function settle(path: string): void {
  const handle = openSync(path, 'r')
  fsyncSync(handle)
  closeSync(handle)
}
