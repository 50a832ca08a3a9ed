import type { MessageState, OutboxMessage, OutboxPage } from '@patient-hook/contract'
import type { Store } from './database.js'

/**
 * Messages on their way out. They are written in the transaction of their save; delivery comes after the commit, at
 * least once: a crash between delivery and mark delivers again, and the id tells the receiver that it is a repeat.
 */

const read = (row: Record<string, unknown>): OutboxMessage => ({
  ...(row as unknown as OutboxMessage),
  payload: JSON.parse(row['payload'] as string) as unknown,
})

const WAITING = 'delivered IS NULL AND given_up IS NULL'
const STATES: Record<MessageState, string> = {
  waiting: WAITING,
  delivered: 'delivered IS NOT NULL',
  'given-up': 'given_up IS NOT NULL',
}

/** The oldest messages that have not been delivered, and were not given up. */
export function waiting(store: Store, limit: number): OutboxMessage[] {
  return store.objects(`SELECT * FROM ph_outbox WHERE ${WAITING} ORDER BY id LIMIT ?`, limit).map(read)
}

/** @param only those in this state; null: all */
export function listMessages(store: Store, offset: number, limit: number, only: MessageState | null = null): OutboxPage {
  const where = only === null ? '' : `WHERE ${STATES[only]}`
  const count = (condition: string) => store.one(`SELECT count(*) FROM ph_outbox WHERE ${condition}`) as number
  return {
    total: store.one(`SELECT count(*) FROM ph_outbox ${where}`) as number,
    messages: store.objects(`SELECT * FROM ph_outbox ${where} ORDER BY id DESC LIMIT ? OFFSET ?`, limit, offset).map(read),
    counts: {
      waiting: count(WAITING),
      failed: count(`${WAITING} AND failure IS NOT NULL`),
      delivered: count(STATES.delivered),
      'given-up': count(STATES['given-up']),
    },
  }
}

export function oneMessage(store: Store, id: number): OutboxMessage | undefined {
  const [row] = store.objects('SELECT * FROM ph_outbox WHERE id = ?', id)
  return row && read(row)
}

/** @param delivered when, as ISO text; null for a try that failed, with the reason @param next when it is tried again */
export function noteTry(
  store: Store,
  id: number,
  delivered: string | null,
  failure: string | null,
  next: string | null = null,
): void {
  store.run(
    'UPDATE ph_outbox SET tries = tries + 1, delivered = ?, failure = ?, next_try = ? WHERE id = ?',
    delivered,
    failure,
    next,
    id,
  )
}

/** It waits again, whether it was given up or not. */
export const tryAgain = (store: Store, id: number): void =>
  void store.run('UPDATE ph_outbox SET given_up = NULL, next_try = NULL WHERE id = ?', id)

export const giveUp = (store: Store, id: number): void =>
  void store.run('UPDATE ph_outbox SET given_up = ?, next_try = NULL WHERE id = ?', new Date().toISOString(), id)
