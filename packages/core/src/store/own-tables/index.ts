import type Database from 'better-sqlite3'
import { HookError } from '../../errors.js'
import { first } from './001-first.js'
import { answersAndTries } from './002-answers-and-tries.js'
import { utc } from './003-utc.js'
import { given } from './004-given.js'
import { releases } from './005-releases.js'
import { backfills } from './006-backfills.js'
import { backfillParts } from './007-backfill-parts.js'
import type { Migration } from './types.js'

/**
 * The application's own tables, step by step; a user's table never begins with ph_. A new step gets its own file, added at the
 * end, with a file of the version before it in test/store/files.
 */
const MIGRATIONS: readonly Migration[] = [first, answersAndTries, utc, given, releases, backfills, backfillParts]

/** The number of the newest step. */
export const NEWEST = MIGRATIONS.length

/** Brings the own tables to the newest number, in one transaction. @throws HookError store/newer */
export function bringUpToDate(db: Database.Database, file: string): void {
  const number = db.pragma('user_version', { simple: true }) as number
  if (number > NEWEST) throw new HookError('store/newer', { file, number, newest: NEWEST })
  if (number === NEWEST) return
  db.transaction(() => {
    for (const migration of MIGRATIONS) if (migration.number > number) migration.apply(db)
    db.pragma(`user_version = ${NEWEST}`)
  }).immediate()
}
