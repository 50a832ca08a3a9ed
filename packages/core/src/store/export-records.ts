import { chmodSync, renameSync, rmSync } from 'node:fs'
import Database from 'better-sqlite3'
import { backUp } from './backup.js'

/**
 * Writes all records as a plain SQLite database: the tables of the model, and nothing of the application. Saves continue meanwhile.
 * @param database the application's file; it may be in use
 * @throws HookError store/full, store/damaged; no target is left behind then
 */
export async function exportRecords(database: string, target: string): Promise<void> {
  const part = `${target}.records`
  try {
    await backUp(database, part)
    const db = new Database(part)
    try {
      db.pragma('foreign_keys = off')
      const own = db
        .prepare(`SELECT name FROM sqlite_schema WHERE type = 'table' AND name LIKE 'ph\\_%' ESCAPE '\\'`)
        .pluck()
        .all() as string[]
      for (const name of own) db.exec(`DROP TABLE "${name}"`)
      db.pragma('user_version = 0')
      db.pragma('application_id = 0')
      db.exec('VACUUM')
      db.pragma('journal_mode = DELETE')
    } finally {
      db.close()
    }
    chmodSync(part, 0o644)
    renameSync(part, target)
  } catch (error) {
    rmSync(part, { force: true })
    throw error
  }
}
