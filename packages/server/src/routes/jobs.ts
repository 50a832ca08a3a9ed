import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import { proveBulk, proveMutants, replaySaves, runTests, type Application } from '@patient-hook/core'
import { serve, serveEvents, type ServeOptions } from '../serve.js'
import type { Jobs } from '../services/jobs.js'

/** The same batches are tried each time, unless another seed is given. */
const SEED = 1

/** Long work: begun, listed, watched, stopped. */
export function jobRoutes({ tries }: Application, jobs: Jobs, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.runTests, options, async ({ body: { drafts, only } }) => {
    const title = only?.length === 1 ? `The tests of ${only[0]}` : 'The unit tests'
    return jobs.begin('tests', title, async (job) => {
      await runTests(tries, {
        drafts,
        only,
        signal: job.signal,
        onResult: (result) => job.result(result),
        onFile: (done, total) => job.progress(done, total),
      })
    })
  })
  serve(router, ROUTES.replay, options, async ({ body: { last, drafts } }) =>
    jobs.begin('replay', last === 1 ? 'The last save again' : `The last ${last} saves again`, (job) =>
      replaySaves(tries, {
        last,
        drafts,
        signal: job.signal,
        onResult: (result) => job.result(result),
        onProgress: (done, total) => job.progress(done, total),
      }),
    ),
  )
  serve(router, ROUTES.proveBulk, options, async ({ body: { drafts, hooks, seed = SEED } }) =>
    jobs.begin('bulk', hooks?.length === 1 ? `The bulk proof of ${hooks[0]}` : 'The bulk proof', (job) =>
      proveBulk(tries, {
        drafts,
        hooks,
        seed,
        signal: job.signal,
        onResult: (result) => job.result(result),
        onProgress: (done, total) => job.progress(done, total),
      }),
    ),
  )
  serve(router, ROUTES.proveMutants, options, async ({ body: { drafts, hooks } }) =>
    jobs.begin('mutation', hooks?.length === 1 ? `Small mistakes in ${hooks[0]}` : 'Small mistakes in the hooks', (job) =>
      proveMutants(tries, {
        drafts,
        hooks,
        signal: job.signal,
        onResult: (result) => job.result(result),
        onProgress: (done, total) => job.progress(done, total),
      }),
    ),
  )
  serve(router, ROUTES.jobs, options, async () => ({ jobs: jobs.list() }))
  serve(router, ROUTES.job, options, async ({ params: { id } }) => jobs.get(id))
  serve(router, ROUTES.cancelJob, options, async ({ params: { id } }) => jobs.cancel(id))
  serveEvents(router, ROUTES.watchJob, ({ params: { id } }, send) => jobs.watch(id, send))
  return router
}
