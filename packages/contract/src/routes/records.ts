import { z } from 'zod'
import { route } from '../route.js'
import { choice, fullRecord, letter, MESSAGE_STATES, outboxMessage, outboxPage, recordPage } from '../shapes/records.js'
import { anyName, name, recordIdText } from '../shapes/values.js'
import { why } from '../shapes/why.js'

/** Reads of live records, and the outbox. */

/** The records of this fixture set, or the live ones as they were before a save; default: the live ones. */
const ground = { fixtures: anyName.optional(), before: z.coerce.number().int().positive().optional() }

export const page = {
  offset: z.coerce.number().int().nonnegative().max(Number.MAX_SAFE_INTEGER).default(0),
  limit: z.coerce.number().int().min(1).max(500).default(100),
}

export const recordRoutes = {
  records: route({
    method: 'GET',
    path: '/tables/:table/records',
    summary: 'Records of a table, page by page.',
    params: z.object({ table: name }),
    query: z.object({
      ...page,
      /** Field names with commas between, - before one for falling order. */
      orderBy: z.string().max(300).optional(),
      /** The id of a record: those that come after it. */
      after: z.coerce.number().int().positive().max(Number.MAX_SAFE_INTEGER).optional(),
      /** The id of a record: those right before it; not heeded beside `after`. */
      upTo: z.coerce.number().int().positive().max(Number.MAX_SAFE_INTEGER).optional(),
      search: z.string().max(200).optional(),
      /** Conditions as JSON. */
      where: z.string().max(20_000).optional(),
      ...ground,
    }),
    answer: recordPage,
  }),
  record: route({
    method: 'GET',
    path: '/tables/:table/records/:id',
    summary: 'One record with its history.',
    params: z.object({ table: name, id: recordIdText }),
    query: z.object(ground),
    answer: fullRecord,
  }),
  why: route({
    method: 'GET',
    path: '/tables/:table/records/:id/why',
    summary: 'Why a field holds what it holds, back to what somebody typed.',
    params: z.object({ table: name, id: recordIdText }),
    query: z.object({
      field: anyName,
      /** Only what saves up to this one did; default: the current state. */
      until: z.coerce.number().int().positive().max(Number.MAX_SAFE_INTEGER).optional(),
    }),
    answer: why,
  }),
  choices: route({
    method: 'GET',
    path: '/tables/:table/choices',
    summary: 'Records to choose from for a link.',
    params: z.object({ table: name }),
    query: z.object({ text: z.string().max(200).default(''), ...ground }),
    answer: z.object({ choices: z.array(choice) }),
  }),
  outbox: route({
    method: 'GET',
    path: '/outbox',
    summary: 'Messages, newest first.',
    query: z.object({ ...page, only: z.enum(MESSAGE_STATES).optional() }),
    answer: outboxPage,
  }),
  retryMessage: route({
    method: 'POST',
    path: '/outbox/:id/retry',
    summary: 'Tries to deliver a message now, also one that was given up.',
    params: z.object({ id: recordIdText }),
    answer: outboxMessage,
  }),
  giveUpMessage: route({
    method: 'POST',
    path: '/outbox/:id/give-up',
    summary: 'Gives a message up: it is not tried again, and those behind it go on.',
    params: z.object({ id: recordIdText }),
    answer: outboxMessage,
  }),
  postRoom: route({
    method: 'GET',
    path: '/post-room',
    summary: 'What the simulated post room has received, newest first.',
    query: z.object(page),
    answer: z.object({ total: z.number().int(), letters: z.array(letter) }),
  }),
}
