import type { Store } from '../store/database.js'

/**
 * Messages on their way out. They are written in the transaction of their save; delivery comes after the commit, at
 * least once: a crash between delivery and mark delivers again, and the id tells the receiver that it is a repeat.
 */
export interface OutboxMessage {
  id: number
  save: number
  channel: string
  payload: unknown
  at: string
  /** `plugin/hook@version` that sent it. */
  hook: string
  delivered: string | null
  tries: number
}

const read = (raw: unknown): OutboxMessage => {
  const row = raw as OutboxMessage & { payload: string }
  return { ...row, payload: JSON.parse(row.payload) as unknown }
}

/** The oldest messages that have not been delivered. */
export function waiting(store: Store, limit: number): OutboxMessage[] {
  return store.prepare('SELECT * FROM ph_outbox WHERE delivered IS NULL ORDER BY id LIMIT ?').raw(false).all(limit).map(read)
}

export function listMessages(store: Store, offset: number, limit: number): { total: number; messages: OutboxMessage[] } {
  const total = store.prepare('SELECT count(*) FROM ph_outbox').pluck(true).get() as number
  return {
    total,
    messages: store.prepare('SELECT * FROM ph_outbox ORDER BY id DESC LIMIT ? OFFSET ?').raw(false).all(limit, offset).map(read),
  }
}

/** @param delivered when, as ISO text; null for a try that failed */
export function noteTry(store: Store, id: number, delivered: string | null): void {
  store.prepare('UPDATE ph_outbox SET tries = tries + 1, delivered = ? WHERE id = ?').run(delivered, id)
}
