import { Router } from 'express'
import { ROUTES, type Files, type JobInfo, type ProofPart, type ProofResult } from '@patient-hook/contract'
import { findingsOf, measureCoverage, proveBulk, proveMutants, type Application } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'
import type { JobControl, Jobs } from '../services/jobs.js'
import { codeName, type Proofs } from '../services/proofs.js'
import { VERSION } from '@patient-hook/contract/version'

/** The same batches are tried each time, unless another seed is given. */
const SEED = 1

/** What is proved of the code: measured as jobs, and kept until the code or a test changes. */
export function proofRoutes({ tries, live }: Application, jobs: Jobs, proofs: Proofs, options: ServeOptions): Router {
  const router = Router()
  const nameOf = (drafts: Files | undefined) => codeName(live.files, drafts, VERSION)

  /** @param work is kept when it ends well: what was stopped half way is shown, and not kept */
  function begin<P extends ProofPart>(
    part: P,
    title: string,
    drafts: Files | undefined,
    work: (job: Required<Pick<JobControl<P>, 'signal'>> & Told<P>) => Promise<void>,
  ): JobInfo {
    const code = nameOf(drafts)
    return jobs.begin(
      part,
      title,
      async (job) => {
        const results: ProofResult<P>[] = []
        const onResult = (result: ProofResult<P>) => {
          results.push(result)
          job.result(result)
        }
        await work({ signal: job.signal, onResult, onProgress: (done, total) => job.progress(done, total) })
        proofs.keep(part, code, results)
      },
      code,
    )
  }
  const titleFor = (hooks: string[] | undefined, one: string, all: string) => (hooks?.length === 1 ? `${one} ${hooks[0]}` : all)

  serve(router, ROUTES.knownProofs, options, async ({ body: { drafts } }) => proofs.known(nameOf(drafts)))
  serve(router, ROUTES.proveFindings, options, async ({ body: { drafts } }) =>
    begin('findings', 'Errors of types and known traps', drafts, async ({ signal, onResult }) => {
      const files = { ...Object.fromEntries(live.files), ...drafts }
      for (const finding of await findingsOf(tries, files, signal)) onResult(finding)
    }),
  )
  serve(router, ROUTES.proveCoverage, options, async ({ body: { drafts } }) =>
    begin('coverage', 'What the unit tests run', drafts, async ({ onResult, ...told }) => {
      const { coverage } = await measureCoverage(tries, { drafts, ...told, onResult: (test) => onResult({ test }) })
      for (const covered of coverage.files()) onResult({ covered })
    }),
  )
  serve(router, ROUTES.proveMutants, options, async ({ body: { drafts, hooks } }) =>
    begin('mutation', titleFor(hooks, 'Mutations in', 'Mutations in the hooks'), drafts, (told) =>
      proveMutants(tries, { drafts, hooks, ...told }),
    ),
  )
  serve(router, ROUTES.proveBulk, options, async ({ body: { drafts, hooks, seed = SEED } }) =>
    begin('bulk', titleFor(hooks, 'The bulk proof of', 'The bulk proof'), drafts, (told) =>
      proveBulk(tries, { drafts, hooks, seed, ...told }),
    ),
  )
  return router
}

interface Told<P extends ProofPart> {
  onResult: (result: ProofResult<P>) => void
  onProgress: (done: number, total: number) => void
}
