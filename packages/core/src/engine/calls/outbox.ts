import type { OutboxMessage } from '@patient-hook/contract'
import { noteTry, waiting } from '../../store/outbox.js'
import type { OpenProject } from '../open-project.js'

/** Messages on their way out, as the delivery needs them. */

export const outboxWaiting = (open: OpenProject, limit: number): OutboxMessage[] => waiting(open.live, limit)

/** @param delivered when, as ISO text; null for a try that failed, with the reason */
export function outboxTried(open: OpenProject, id: number, delivered: string | null, failure: string | null): void {
  noteTry(open.live, id, delivered, failure)
}
