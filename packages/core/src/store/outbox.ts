import type { OutboxMessage } from '@patient-hook/contract'
import type { Store } from './database.js'

/**
 * Messages on their way out. They are written in the transaction of their save; delivery comes after the commit, at
 * least once: a crash between delivery and mark delivers again, and the id tells the receiver that it is a repeat.
 */

const read = (row: Record<string, unknown>): OutboxMessage => ({
  ...(row as unknown as OutboxMessage),
  payload: JSON.parse(row['payload'] as string) as unknown,
})

/** The oldest messages that have not been delivered. */
export function waiting(store: Store, limit: number): OutboxMessage[] {
  return store.objects('SELECT * FROM ph_outbox WHERE delivered IS NULL ORDER BY id LIMIT ?', limit).map(read)
}

export function listMessages(store: Store, offset: number, limit: number): { total: number; messages: OutboxMessage[] } {
  return {
    total: store.one('SELECT count(*) FROM ph_outbox') as number,
    messages: store.objects('SELECT * FROM ph_outbox ORDER BY id DESC LIMIT ? OFFSET ?', limit, offset).map(read),
  }
}

/** @param delivered when, as ISO text; null for a try that failed, with the reason */
export function noteTry(store: Store, id: number, delivered: string | null, failure: string | null): void {
  store.run('UPDATE ph_outbox SET tries = tries + 1, delivered = ?, failure = ? WHERE id = ?', delivered, failure, id)
}
