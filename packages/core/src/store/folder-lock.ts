import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { HookError } from '../errors.js'
import { makeFolder } from '../model/make-folder.js'

/**
 * One server on one folder: anyone who serves it holds a lock of the operating system on a small file in it, which is gone with the
 * process, however that ends.
 */
export interface FolderLock {
  /** Says in the folder where the server answers, for anyone who comes second. @param access the same with the way in, for who owns the folder */
  tell(address: string, access: string): void
  release(): void
}

/** @throws HookError store/in-use naming who has it */
export function lockFolder(folder: string): FolderLock {
  makeFolder(folder, 0o700)
  const note = join(folder, 'server.txt')
  const way = join(folder, 'access.txt')
  const db = new Database(join(folder, 'server.lock'), { timeout: 0 })
  try {
    db.pragma('journal_mode = DELETE')
    db.exec('BEGIN EXCLUSIVE')
  } catch (error) {
    db.close()
    if (!(error instanceof Database.SqliteError) || !error.code.startsWith('SQLITE_BUSY')) throw error
    let who = 'another process'
    try {
      who = readFileSync(note, 'utf8').trim() || who
    } catch {
      // It has not told yet.
    }
    throw new HookError('store/in-use', { folder, who })
  }
  const tell = (address: string, access: string) => {
    writeFileSync(note, `process ${process.pid}${address === '' ? '' : `, at ${address}`}\n`, { mode: 0o600 })
    if (access === '') rmSync(way, { force: true })
    else writeFileSync(way, `${access}\n`, { mode: 0o600 })
  }
  tell('', '')
  return {
    tell,
    release: () => {
      rmSync(way, { force: true })
      db.exec('ROLLBACK')
      db.close()
    },
  }
}
