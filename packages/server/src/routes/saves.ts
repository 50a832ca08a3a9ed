import { Router } from 'express'
import { z } from 'zod'
import { HookError, type EngineHost } from '@patient-hook/core'
import type { Delivery } from '../services/delivery.js'
import { drafts, name, recordId, rows, take, user, values } from '../validate.js'

const sheet = z.strictObject({
  fixtures: z.string().optional(),
  drafts,
  table: name,
  event: z.enum(['create', 'update', 'delete']),
  leaveOut: z.array(z.string()).optional(),
  touch: z.array(z.string()).optional(),
  values: values.optional(),
  typed: z.record(z.string(), values).optional(),
  user,
  limit: z.number().int().positive().optional(),
  focus: z.number().int().positive().optional(),
})
const saving = z.strictObject({ rows, user, partial: z.boolean().optional() })
const listing = z.object({
  offset: z.coerce.number().int().nonnegative().default(0),
  limit: z.coerce.number().int().min(1).max(500).default(100),
  orderBy: z.string().optional(),
  search: z.string().max(200).optional(),
  where: z.string().optional(),
})

function condition(text: string | undefined): Record<string, unknown> {
  if (text === undefined || text === '') return {}
  try {
    return take(z.record(z.string(), z.unknown()), JSON.parse(text))
  } catch (error) {
    if (error instanceof HookError) throw error
    throw new HookError('request/bad', { detail: 'where: expected JSON' })
  }
}

/** Records and what is done with them: saves, rehearsals, the effect sheet. */
export function saveRoutes(engine: EngineHost, delivery: Delivery): Router {
  const router = Router()
  router.post('/sheet', async (request, response) => {
    const { fixtures, drafts: texts, ...asked } = take(sheet, request.body)
    // Some hundred kilobytes at each pause in typing: handed on as it comes.
    response.type('json').send(await engine.callText('sheet', { fixtures, drafts: texts }, asked))
  })
  router.post('/rehearsals', async (request, response) => {
    const body = take(saving.extend({ fixtures: z.string().optional(), drafts }), request.body)
    response.json(
      await engine.call('rehearse', { fixtures: body.fixtures, drafts: body.drafts }, body.rows, {
        user: body.user,
        partial: body.partial,
      }),
    )
  })
  router.post('/saves', async (request, response) => {
    const body = take(saving, request.body)
    const outcome = await engine.call('save', body.rows, {
      user: body.user,
      partial: body.partial,
      record: body.rows.length <= 500,
    })
    if (outcome.error) throw new HookError(outcome.error)
    if (outcome.sent.length > 0) delivery.wake()
    response.status(201).json(outcome)
  })
  router.get('/outbox', async (request, response) => {
    const { offset, limit } = take(listing, request.query)
    response.json(await engine.call('outbox', offset, limit))
  })
  router.get('/tables/:table/records', async (request, response) => {
    const { where, ...options } = take(listing, request.query)
    response.json(await engine.call('list', take(name, request.params.table), { ...options, where: condition(where) }))
  })
  router.get('/tables/:table/records/:id', async (request, response) => {
    response.json(await engine.call('record', take(name, request.params.table), take(recordId, request.params.id)))
  })
  router.get('/tables/:table/choices', async (request, response) => {
    const text = take(z.string().max(200).default(''), request.query['text'])
    response.json({ choices: await engine.call('choices', take(name, request.params.table), text) })
  })
  return router
}
