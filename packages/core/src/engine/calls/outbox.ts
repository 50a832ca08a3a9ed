import type { OutboxMessage } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { giveUp, noteTry, oneMessage, tryAgain, waiting } from '../../store/outbox.js'
import type { Store } from '../../store/database.js'
import type { OpenProject } from '../open-project.js'

/** Messages on their way out, as the delivery and anyone who looks after it need them. */

export const outboxWaiting = (open: OpenProject, limit: number): OutboxMessage[] => waiting(open.live, limit)

/**
 * @param delivered when, as ISO text; null for a try that failed, with the reason
 * @param next when it is tried again, as ISO text; null where it is not
 */
export function outboxTried(
  open: OpenProject,
  id: number,
  delivered: string | null,
  failure: string | null,
  next: string | null,
): void {
  noteTry(open.live, id, delivered, failure, next)
}

/** @throws HookError outbox/bad */
export const retryMessage = (open: OpenProject, id: number): OutboxMessage => changed(open.live, id, tryAgain)

/** @throws HookError outbox/bad */
export const giveUpMessage = (open: OpenProject, id: number): OutboxMessage => changed(open.live, id, giveUp)

function changed(store: Store, id: number, work: (store: Store, id: number) => void): OutboxMessage {
  const before = oneMessage(store, id)
  if (!before) throw new HookError('outbox/bad', { message: id, detail: 'there is no such message' })
  if (before.delivered !== null)
    throw new HookError('outbox/bad', { message: id, detail: `it was delivered at ${before.delivered}` })
  work(store, id)
  return oneMessage(store, id)!
}
