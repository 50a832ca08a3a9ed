import { Router } from 'express'
import { ROUTES, where } from '@patient-hook/contract'
import { HookError, type Application } from '@patient-hook/core'
import { parse, serve, type ServeOptions } from '../serve.js'

function conditions(text: string | undefined): Record<string, unknown> {
  if (text === undefined || text === '') return {}
  let given: unknown
  try {
    given = JSON.parse(text)
  } catch {
    throw new HookError('request/bad', { detail: 'where: expected JSON, such as { "status": "stored" }' })
  }
  return parse(where, given, 'where')
}

/** Reads of records, live or of a fixture set, and the outbox. */
export function recordRoutes({ reader, tries }: Application, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.records, options, async ({ params: { table }, query: { where: text, fixtures, ...page }, signal }) => {
    const asked = { ...page, where: conditions(text) }
    return fixtures === undefined
      ? reader.read('list', table, asked)
      : tries.call('listTried', [{ fixtures }, table, asked], { signal })
  })
  serve(router, ROUTES.record, options, async ({ params: { table, id }, query: { fixtures }, signal }) =>
    fixtures === undefined ? reader.read('record', table, id) : tries.call('recordTried', [{ fixtures }, table, id], { signal }),
  )
  serve(router, ROUTES.choices, options, async ({ params: { table }, query: { text, fixtures }, signal }) => ({
    choices:
      fixtures === undefined
        ? await reader.read('choices', table, text)
        : await tries.call('choicesTried', [{ fixtures }, table, text], { signal }),
  }))
  serve(router, ROUTES.outbox, options, async ({ query: { offset, limit } }) => reader.read('outbox', offset, limit))
  return router
}
