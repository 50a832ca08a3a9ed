import type { Store } from '../store/database.js'
import type { InputRow, SaveOptions } from './types.js'

/** What a save was given: kept with it for a while, so it can be run again with other code. */

/** Of saves of more rows, or of more JSON than this, it is not kept. */
const MOST_ROWS = 500
const MOST_CHARACTERS = 256 * 1024
/** So many saves back it is kept; older ones forget it. */
const REMEMBERED = 1000

export interface Given {
  rows: InputRow[]
  partial: boolean
  /** Where each series of numbers, and of ids (`#table`), was before the save. */
  next: Record<string, number>
}

/** As JSON, before anything of the save was done; null where it is too much to keep. */
export function givenOf(store: Store, rows: readonly InputRow[], { partial = false }: SaveOptions): string | null {
  if (rows.length > MOST_ROWS) return null
  const next = Object.fromEntries(store.rows('SELECT name, next FROM ph_sequence') as [string, number][])
  const text = JSON.stringify({ rows: [...rows], partial, next } satisfies Given)
  return text.length > MOST_CHARACTERS ? null : text
}

export function keepGiven(store: Store, save: number, given: string): void {
  store.run('UPDATE ph_save SET given = ? WHERE id = ?', given, save)
  store.run('UPDATE ph_save SET given = NULL WHERE id = ?', save - REMEMBERED)
}

/** A save that was kept. */
export interface KeptSave {
  id: number
  /** ISO date and time. */
  at: string
  user: string
  /** Rows that it was given, counted. */
  rows: number
  /** Null where it was not kept. */
  given: Given | null
}

/** @returns undefined where there is no such save */
export function keptSave(store: Store, id: number): KeptSave | undefined {
  const [raw] = store.objects('SELECT id, at, user, rows, given FROM ph_save WHERE id = ?', id)
  if (!raw) return undefined
  const { given, ...save } = raw as Omit<KeptSave, 'given'> & { given: string | null }
  return { ...save, given: given === null ? null : (JSON.parse(given) as Given) }
}

/** The last saves that were kept, oldest first. @param count how many at most */
export const lastSaves = (store: Store, count: number): number[] =>
  (store.values('SELECT id FROM ph_save ORDER BY id DESC LIMIT ?', count) as number[]).reverse()
