import { z } from 'zod'
import { route } from '../route.js'
import { fullRecord, recordPage } from '../shapes/records.js'
import { inputRows, saveOutcome } from '../shapes/saves.js'
import { table } from '../shapes/tables.js'
import { name, recordIdText } from '../shapes/values.js'
import { recordRoutes } from './records.js'

/** What other programs ask for, below /api/v1, with a key. The user of a save is the key's. */

const { offset, limit, orderBy, search, where } = recordRoutes.records.query!.shape
const saving = z.strictObject({ rows: inputRows, partial: z.boolean().optional() })

export const V1_ROUTES = {
  tables: route({
    method: 'GET',
    path: '/tables',
    summary: 'The tables and their fields.',
    answer: z.object({ tables: z.array(table) }),
  }),
  records: route({
    method: 'GET',
    path: '/tables/:table/records',
    summary: 'Records of a table, page by page.',
    params: z.object({ table: name }),
    query: z.object({ offset, limit, orderBy, search, where }),
    answer: recordPage,
  }),
  record: route({
    method: 'GET',
    path: '/tables/:table/records/:id',
    summary: 'One record with its history.',
    params: z.object({ table: name, id: recordIdText }),
    answer: fullRecord,
  }),
  save: route({
    method: 'POST',
    path: '/saves',
    summary:
      'Saves rows in one transaction. With the header Idempotency-Key the same save asked for again gets the first answer.',
    body: saving,
    answer: saveOutcome,
    status: 201,
  }),
  rehearse: route({
    method: 'POST',
    path: '/rehearsals',
    summary: 'Says what such a save would do, and keeps nothing.',
    body: saving,
    answer: saveOutcome,
  }),
}
