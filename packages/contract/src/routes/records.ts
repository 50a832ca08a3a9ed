import { z } from 'zod'
import { route } from '../route.js'
import { choice, fullRecord, outboxMessage, recordPage } from '../shapes/records.js'
import { anyName, name, recordIdText } from '../shapes/values.js'

/** Reads of live records, and the outbox. */

/** The records of this fixture set, or the live ones as they stood before a save; default: the live ones. */
const ground = { fixtures: anyName.optional(), before: z.coerce.number().int().positive().optional() }

const page = {
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
      orderBy: z.string().max(300).optional(),
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
    query: z.object(page),
    answer: z.object({ total: z.number().int(), messages: z.array(outboxMessage) }),
  }),
}
