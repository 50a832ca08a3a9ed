import { Router } from 'express'
import { openApiV1, V1_ROUTES } from '@patient-hook/contract'
import { HookError, type Application } from '@patient-hook/core'
import { hashOf, limitCalls, mayOnly, needKey, type KeyedRequest } from '../bearer.js'
import { jsonBodies } from '../bodies.js'
import { conditions } from '../conditions.js'
import { answerOfSave } from '../save-answer.js'
import { parse, serve, type ServeOptions } from '../serve.js'
import type { ApiKeys } from '../services/api-keys.js'
import type { Delivery } from '../services/delivery.js'
import { VERSION } from '@patient-hook/contract/version'
import { z } from 'zod'

/** The way in for other programs, below /api/v1. */

const saveName = z.string().min(1).max(200)

export function v1Routes(application: Application, apiKeys: ApiKeys, delivery: Delivery, options: ServeOptions): Router {
  const { live, tries, reader } = application
  const router = Router()
  router.use(needKey(application, apiKeys), ...jsonBodies(), limitCalls())
  router.get('/openapi.json', (_, response) => void response.json(openApiV1(VERSION, live.info.tables)))
  serve(router, V1_ROUTES.tables, options, async () => ({ tables: live.info.tables }))
  serve(router, V1_ROUTES.records, options, async ({ params: { table }, query: { where, ...page } }) =>
    reader.read('list', table, { ...page, where: conditions(where) }),
  )
  serve(router, V1_ROUTES.record, options, async ({ params: { table, id } }) => reader.read('record', table, id))
  serve(router, V1_ROUTES.save, options, async ({ body: { rows, partial }, request }) => {
    const key = (request as KeyedRequest).key!
    mayOnly(key, 'save')
    const given = request.headers['idempotency-key']
    const name = given === undefined ? null : parse(saveName, given, 'the header Idempotency-Key')
    const asked = { user: key.user, partial }
    const outcome =
      name === null
        ? await live.save(rows, asked)
        : await live.saveOnce(rows, asked, { key: key.id, name, request: hashOf(JSON.stringify([rows, partial ?? false])) })
    if (outcome.sent.length > 0) delivery.wake()
    return answerOfSave(outcome)
  })
  serve(router, V1_ROUTES.rehearse, options, async ({ body: { rows, partial }, request, signal }) => {
    const { id, user } = (request as KeyedRequest).key!
    const options = { signal, owner: `key ${id}` }
    const { log: _, ...outcome } = await tries.call('rehearse', [{}, rows, { user, partial, released: true }], options)
    return outcome
  })
  router.use((asked) => {
    throw new HookError('request/not-found', { detail: `No route matches ${asked.method} /api/v1${asked.path.slice(0, 200)}` })
  })
  return router
}
