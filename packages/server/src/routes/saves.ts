import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import type { Application, CallValues } from '@patient-hook/core'
import { answerOfSave } from '../save-answer.js'
import { JsonText, serve, type ServeOptions } from '../serve.js'
import type { Delivery } from '../services/delivery.js'

/** Verdicts and values are reported about saves of up to so many rows. */
const RECORDED = 500

/** Saves, and what is tried without being kept. */
export function saveRoutes({ live, tries, reader }: Application, delivery: Delivery, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.save, options, async ({ body: { rows, user, partial } }) => {
    const outcome = await live.save(rows, { user, partial, record: rows.length <= RECORDED })
    if (outcome.sent.length > 0) delivery.wake()
    return answerOfSave(outcome)
  })
  serve(router, ROUTES.saves, options, async ({ query }) => reader.read('saves', query))
  serve(router, ROUTES.saveFigures, options, async ({ query: { hours } }) => {
    // What was added up since the last writing belongs to it.
    await live.call('writeTally')
    return reader.read('figures', hours)
  })
  serve(router, ROUTES.refusedStory, options, async ({ params: { id } }) => reader.read('refused', id))
  serve(router, ROUTES.saveStory, options, async ({ params: { id } }) => reader.read('save', id))
  // Answers of some hundred kilobytes, asked for at each pause in typing: handed on as they come.
  const handOn = async <N extends 'rehearse' | 'sheet'>(call: N, values: CallValues<N>, signal: AbortSignal) =>
    new JsonText((await tries.callText(call, values, { signal }))!)
  serve(router, ROUTES.rehearse, options, async ({ body: { rows, fixtures, before, drafts, ...asked }, signal }) =>
    handOn('rehearse', [{ fixtures, before, drafts }, rows, asked], signal),
  )
  serve(
    router,
    ROUTES.keepTest,
    options,
    async ({ body: { rows, fixtures, before, drafts, user, clock, partial, ...wish }, signal }) =>
      tries.call('keepTest', [{ fixtures, before, drafts }, rows, { user, clock, partial }, wish], { signal }),
  )
  serve(router, ROUTES.sheet, options, async ({ body: { fixtures, before, drafts, ...request }, signal }) =>
    handOn('sheet', [{ fixtures, before, drafts }, request], signal),
  )
  serve(router, ROUTES.givenSave, options, async ({ params: { save }, signal }) => tries.call('givenSave', [save], { signal }))
  return router
}
