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

/** Reads of live records, and the outbox. */
export function recordRoutes({ reader }: Application, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.records, options, async ({ params: { table }, query: { where: text, ...page } }) =>
    reader.read('list', table, { ...page, where: conditions(text) }),
  )
  serve(router, ROUTES.record, options, async ({ params: { table, id } }) => reader.read('record', table, id))
  serve(router, ROUTES.choices, options, async ({ params: { table }, query: { text } }) => ({
    choices: await reader.read('choices', table, text),
  }))
  serve(router, ROUTES.outbox, options, async ({ query: { offset, limit } }) => reader.read('outbox', offset, limit))
  return router
}
