import { Router } from 'express'
import { ROUTES, type BackfillInfo } from '@patient-hook/contract'
import { planBackfill, type Application } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'
import type { Backfills } from '../services/backfills.js'
import type { Jobs } from '../services/jobs.js'

/** Backfills: planned and run as jobs, held and undone. */
export function backfillRoutes(
  { live, reader, tries }: Application,
  jobs: Jobs,
  backfills: Backfills,
  options: ServeOptions,
): Router {
  const router = Router()
  const who = (user: string | undefined) => user ?? live.info.users[0]?.name ?? 'owner'
  const going = (backfill: BackfillInfo) => ({ backfill, job: backfills.jobOf(backfill.id) })
  const run = (backfill: BackfillInfo) => {
    backfills.run(backfill)
    return going(backfill)
  }
  serve(router, ROUTES.planBackfill, options, async ({ body: { user, sample, ...wish } }) =>
    jobs.begin('backfill-plan', `What a backfill of ${wish.table} would do`, async (job) => {
      const plan = await planBackfill(tries, wish, who(user), sample ?? null, {
        signal: job.signal,
        onProgress: (done, total) => job.progress(done, total),
      })
      job.result({ plan })
    }),
  )
  serve(router, ROUTES.beginBackfill, options, async ({ body: { user, ...wish } }) =>
    run(await live.beginBackfill(wish, who(user))),
  )
  serve(router, ROUTES.undoBackfill, options, async ({ params: { id }, body: { user } }) =>
    run(await live.undoBackfill(id, who(user))),
  )
  serve(router, ROUTES.holdBackfill, options, async ({ params: { id }, body: { state } }) => {
    const backfill = await live.call('holdBackfill', id, state)
    return state === 'running' ? run(backfill) : going(backfill)
  })
  serve(router, ROUTES.backfills, options, async () => ({ backfills: await reader.read('backfills') }))
  serve(router, ROUTES.backfill, options, async ({ params: { id } }) => {
    const { backfill, left } = await reader.read('backfill', id)
    return { ...going(backfill), left }
  })
  return router
}
