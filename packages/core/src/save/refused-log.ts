import { HookError, isRefusal, type ErrorReport } from '../errors.js'
import type { Store } from '../store/database.js'
import type { Spent } from '../model/types.js'
import type { InputRow } from './types.js'

/** Saves that were not kept, or left rows out: noted after they were rolled back, the last thousand of them. */

const REMEMBERED = 1000
/** Longer input is not kept with it, in characters of JSON. */
const MOST_CHARACTERS = 64 * 1024
const MOST_REFUSALS = 20

export interface NotKept {
  user: string
  rows: readonly InputRow[]
  /** JSON: by plugin, its version. */
  versions: string
  spent: Spent | null
  error: ErrorReport
  /** How many rows were left out of a save that was kept; null: no changes were saved. */
  left: number | null
}

export function noteRefused(store: Store, { user, rows, versions, spent, error, left }: NotKept): void {
  const given = left === null ? JSON.stringify(rows) : null
  const { refusals = [], others: _others, ...cause } = error
  const told = { ...cause, ...(refusals.length > 0 ? { refusals: refusals.slice(0, MOST_REFUSALS) } : {}) }
  const { lastInsertRowid } = store.run(
    `INSERT INTO ph_refused (at, user, rows, after, given, versions, spent, ms, code, hook, tbl, error)
     VALUES (?, ?, ?, (SELECT coalesce(max(id), 0) FROM ph_save), ?, ?, ?, ?, ?, ?, ?, ?)`,
    new Date().toISOString(),
    user,
    left ?? rows.length,
    given !== null && given.length <= MOST_CHARACTERS ? given : null,
    versions,
    JSON.stringify(spent ?? {}),
    spent?.ms ?? 0,
    error.code,
    error.hook ?? null,
    error.table ?? null,
    JSON.stringify(told),
  )
  store.run('DELETE FROM ph_refused WHERE id <= ?', (lastInsertRowid as number) - REMEMBERED)
}

/** A check or a hook said no; anything else is a failure. */
export const wasRefused = (error: ErrorReport): boolean => isRefusal(error) || isRefusal({ refusals: [error] })

/** Does a failure to note it is in nobody's way: a full disk has been told already. */
export function noteQuietly(work: () => void): void {
  try {
    work()
  } catch (error) {
    if (!HookError.is(error)) throw error
  }
}
