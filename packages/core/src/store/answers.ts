import { HookError } from '../errors.js'
import type { Store } from './database.js'

/** Answers of saves that the caller named, so that the same save asked for twice is done once. */

/** Names a save of a key's, as its caller does. */
export interface AskedOnce {
  key: number
  name: string
  /** Hash of what is asked for: another save under the same name is an error. */
  request: string
}

/** Days for which an answer is kept. */
const DAYS = 7

/** @returns the first answer, as JSON; null where there was none @throws HookError access/name-taken */
export function answerOf(store: Store, { key, name, request }: AskedOnce): string | null {
  const [row] = store.rows('SELECT request, answer FROM ph_answer WHERE key = ? AND name = ?', key, name) as [string, string][]
  if (!row) return null
  if (row[0] !== request) throw new HookError('access/name-taken', { name })
  return row[1]
}

/** Within the transaction of the save. */
export function keepAnswer(store: Store, { key, name, request }: AskedOnce, answer: string): void {
  store.run(
    'INSERT INTO ph_answer (key, name, request, answer, at) VALUES (?, ?, ?, ?, ?)',
    key,
    name,
    request,
    answer,
    new Date().toISOString(),
  )
  store.run('DELETE FROM ph_answer WHERE at < ?', new Date(Date.now() - DAYS * 86_400_000).toISOString())
}
