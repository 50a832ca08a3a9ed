import { Router } from 'express'
import { ROUTES, type JobKind, type JobResult, type TestResult } from '@patient-hook/contract'
import { measureCoverage, proveBulk, proveMutants, replaySaves, runTests, type Application } from '@patient-hook/core'
import { serve, serveEvents, type ServeOptions } from '../serve.js'
import type { JobControl, Jobs } from '../services/jobs.js'

/** The same batches are tried each time, unless another seed is given. */
const SEED = 1

/** What a piece of work is to tell its job, and by what it is stopped. */
const told = <K extends JobKind>(job: JobControl<K>) => ({
  signal: job.signal,
  onResult: (result: JobResult<K>) => job.result(result),
  onProgress: (done: number, total: number) => job.progress(done, total),
})

/** Long work: begun, listed, watched, stopped. */
export function jobRoutes({ tries }: Application, jobs: Jobs, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.runTests, options, async ({ body: { drafts, only } }) => {
    const title = only?.length === 1 ? `The tests of ${only[0]}` : 'The unit tests'
    return jobs.begin('tests', title, async (job) => void (await runTests(tries, { drafts, only, ...told(job) })))
  })
  serve(router, ROUTES.replay, options, async ({ body: { last, drafts } }) =>
    jobs.begin('replay', last === 1 ? 'The last save again' : `The last ${last} saves again`, (job) =>
      replaySaves(tries, { last, drafts, ...told(job) }),
    ),
  )
  serve(router, ROUTES.proveCoverage, options, async ({ body: { drafts } }) =>
    jobs.begin('coverage', 'What the unit tests run', async (job) => {
      const { signal, onProgress } = told(job)
      const onResult = (test: TestResult) => job.result({ test })
      const { coverage } = await measureCoverage(tries, { drafts, signal, onProgress, onResult })
      for (const covered of coverage.files()) job.result({ covered })
    }),
  )
  serve(router, ROUTES.proveBulk, options, async ({ body: { drafts, hooks, seed = SEED } }) =>
    jobs.begin('bulk', hooks?.length === 1 ? `The bulk proof of ${hooks[0]}` : 'The bulk proof', (job) =>
      proveBulk(tries, { drafts, hooks, seed, ...told(job) }),
    ),
  )
  serve(router, ROUTES.proveMutants, options, async ({ body: { drafts, hooks } }) =>
    jobs.begin('mutation', hooks?.length === 1 ? `Small mistakes in ${hooks[0]}` : 'Small mistakes in the hooks', (job) =>
      proveMutants(tries, { drafts, hooks, ...told(job) }),
    ),
  )
  serve(router, ROUTES.jobs, options, async () => ({ jobs: jobs.list() }))
  serve(router, ROUTES.job, options, async ({ params: { id } }) => jobs.get(id))
  serve(router, ROUTES.cancelJob, options, async ({ params: { id } }) => jobs.cancel(id))
  serveEvents(router, ROUTES.watchJob, ({ params: { id } }, send) => jobs.watch(id, send))
  return router
}
