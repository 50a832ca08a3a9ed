import { z } from 'zod'
import { value, recordValues } from './values.js'

/** Live records as lists and one at a time, their history, and messages on their way out. */

export const recordPage = z.object({
  total: z.number().int(),
  records: z.array(recordValues),
  /** For each link field of the table: id to what people call the record. */
  labels: z.record(z.string(), z.record(z.string(), z.string())),
})
export type RecordPage = z.infer<typeof recordPage>

export const historyEntry = z.object({
  save: z.number().int(),
  /** ISO date and time, UTC. */
  at: z.string(),
  user: z.string(),
  event: z.string(),
  depth: z.number().int(),
  /** RFC 6902. */
  patch: z.array(z.object({ op: z.string(), path: z.string(), from: z.string().optional(), value: z.unknown().optional() })),
  changes: z.array(z.object({ field: z.string(), from: z.unknown(), to: z.unknown(), by: z.string() })),
})
export type HistoryEntry = z.infer<typeof historyEntry>

export const fullRecord = z.object({
  record: recordValues,
  history: z.array(historyEntry),
  labels: recordPage.shape.labels,
})
export type FullRecord = z.infer<typeof fullRecord>

export const choice = z.object({ id: z.number().int(), label: z.string() })
export type Choice = z.infer<typeof choice>

/** A record in any table, by what people call it. */
export const namedRecord = z.object({ table: z.string(), id: z.number().int(), label: z.string() })
export type NamedRecord = z.infer<typeof namedRecord>

/** Conditions on fields: a value, or operators with their values. */
export const where = z.record(
  z.string().max(200),
  z.union([value, z.record(z.string().max(20), z.union([value, z.array(value).max(10_000)]))]),
)

/** A message of the outbox. */
export const outboxMessage = z.object({
  id: z.number().int(),
  save: z.number().int(),
  channel: z.string(),
  payload: z.unknown(),
  at: z.string(),
  /** `plugin/hook@version` that sent it. */
  hook: z.string(),
  /** When it was delivered, as ISO text; null while it waits. */
  delivered: z.string().nullable(),
  tries: z.number().int(),
  /** Why the last try failed; null where none has. */
  failure: z.string().nullable(),
  /** When it is tried again, as ISO text; null where it is not waiting for that. */
  next_try: z.string().nullable(),
  /** When it was given up; null where it was not. */
  given_up: z.string().nullable(),
})
export type OutboxMessage = z.infer<typeof outboxMessage>

export const MESSAGE_STATES = ['waiting', 'delivered', 'given-up'] as const
export type MessageState = (typeof MESSAGE_STATES)[number]
export const outboxPage = z.object({
  total: z.number().int(),
  messages: z.array(outboxMessage),
  /** How many there are of each kind; those that failed are waiting still. */
  counts: z.object({
    waiting: z.number().int(),
    failed: z.number().int(),
    delivered: z.number().int(),
    'given-up': z.number().int(),
  }),
})
export type OutboxPage = z.infer<typeof outboxPage>

/** What the post room received. */
export const letter = z.object({
  id: z.number().int(),
  save: z.number().int(),
  channel: z.string(),
  payload: z.unknown(),
  at: z.string(),
})
export type Letter = z.infer<typeof letter>
