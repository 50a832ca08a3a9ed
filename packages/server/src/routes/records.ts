import { Router } from 'express'
import { ROUTES, type Ground } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'
import { conditions } from '../conditions.js'
import { serve, type ServeOptions } from '../serve.js'
import type { Delivery } from '../services/delivery.js'
import type { Inbox } from '../services/post-room.js'

/** Reads of records, live or of a fixture set, and the outbox. */
export function recordRoutes(
  { live, reader, tries }: Application,
  delivery: Delivery,
  inbox: Inbox,
  options: ServeOptions,
): Router {
  const router = Router()
  const isTried = ({ fixtures, before }: Ground) => fixtures !== undefined || before !== undefined
  serve(router, ROUTES.records, options, async ({ params: { table }, query, signal }) => {
    const { where: text, fixtures, before, ...page } = query
    const asked = { ...page, where: conditions(text) }
    return isTried(query)
      ? tries.call('listTried', [{ fixtures, before }, table, asked], { signal })
      : reader.read('list', table, asked)
  })
  serve(router, ROUTES.record, options, async ({ params: { table, id }, query, signal }) =>
    isTried(query) ? tries.call('recordTried', [query, table, id], { signal }) : reader.read('record', table, id),
  )
  serve(router, ROUTES.why, options, async ({ params: { table, id }, query: { field, until } }) => {
    const looks = live.info.hooks.map(({ name, plugin, table, watch, reads, uses }) => ({
      name,
      plugin,
      table,
      watch,
      reads,
      uses,
    }))
    return reader.read('why', table, id, field, until ?? null, looks)
  })
  serve(router, ROUTES.choices, options, async ({ params: { table }, query: { text, ...ground }, signal }) => ({
    choices: isTried(ground)
      ? await tries.call('choicesTried', [ground, table, text], { signal })
      : await reader.read('choices', table, text),
  }))
  serve(router, ROUTES.outbox, options, async ({ query: { offset, limit, only } }) =>
    reader.read('outbox', offset, limit, only ?? null),
  )
  serve(router, ROUTES.retryMessage, options, async ({ params: { id } }) => {
    const message = await live.call('retryMessage', id)
    delivery.hurry()
    return message
  })
  serve(router, ROUTES.giveUpMessage, options, async ({ params: { id } }) => {
    const message = await live.call('giveUpMessage', id)
    // Those behind it need not wait for its next try.
    delivery.hurry()
    return message
  })
  serve(router, ROUTES.postRoom, options, async ({ query: { offset, limit } }) => inbox.letters(offset, limit))
  return router
}
