import { Router } from 'express'
import { ROUTES, type JobKind, type JobResult } from '@patient-hook/contract'
import { replaySaves, runTests, type Application } from '@patient-hook/core'
import { serve, serveEvents, type ServeOptions } from '../serve.js'
import type { JobControl, Jobs } from '../services/jobs.js'

/** What a piece of work is to tell its job, and by what it is stopped. */
const told = <K extends JobKind>(job: JobControl<K>) => ({
  signal: job.signal,
  onResult: (result: JobResult<K>) => job.result(result),
  onProgress: (done: number, total: number) => job.progress(done, total),
})

/** Long work: begun, listed, watched, stopped. */
export function jobRoutes({ tries }: Application, jobs: Jobs, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.runTests, options, async ({ body: { drafts, only, changed, filter } }) => {
    const title = only?.length === 1 ? `The tests of ${only[0]}` : 'The unit tests'
    return jobs.begin(
      'tests',
      title,
      async (job) => void (await runTests(tries, { drafts, only, changed, filter, ...told(job) })),
    )
  })
  serve(router, ROUTES.replay, options, async ({ body: { last, drafts } }) =>
    jobs.begin('replay', last === 1 ? 'The last save again' : `The last ${last} saves again`, (job) =>
      replaySaves(tries, { last, drafts, ...told(job) }),
    ),
  )
  serve(router, ROUTES.jobs, options, async () => ({ jobs: jobs.list() }))
  serve(router, ROUTES.job, options, async ({ params: { id } }) => jobs.get(id))
  serve(router, ROUTES.cancelJob, options, async ({ params: { id } }) => jobs.cancel(id))
  serveEvents(router, ROUTES.watchJob, ({ params: { id } }, send, end) =>
    jobs.watch(id, (event) => {
      send(event)
      if (event.event === 'end') end()
    }),
  )
  return router
}
