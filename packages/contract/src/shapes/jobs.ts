import { z } from 'zod'
import { backfillInfo, backfillPlan } from './backfills.js'
import { backupResult } from './backups.js'
import { csvResult } from './csv.js'
import { errorReport } from './errors.js'
import { importPlan } from './exchange.js'
import { PROOFS } from './proofs.js'
import { releaseResult } from './releases.js'
import { replayedSave } from './replays.js'
import { testResult } from './tests.js'

/** Long work that can be watched and stopped. */

/** What each kind of work finds. A new kind is one line more. */
const RESULTS = {
  tests: testResult,
  replay: replayedSave,
  findings: PROOFS.findings.result,
  coverage: PROOFS.coverage.result,
  mutation: PROOFS.mutation.result,
  bulk: PROOFS.bulk.result,
  release: releaseResult,
  import: importPlan,
  'backfill-plan': backfillPlan,
  backfill: backfillInfo,
  backup: backupResult,
  csv: csvResult,
} as const
export type JobKind = keyof typeof RESULTS
export type JobResult<K extends JobKind = JobKind> = z.infer<(typeof RESULTS)[K]>
const jobKind = z.enum(Object.keys(RESULTS) as [JobKind, ...JobKind[]])
const jobResult = z.union(Object.values(RESULTS))

export const jobState = z.enum(['waiting', 'running', 'done', 'failed', 'cancelled'])
export type JobState = z.infer<typeof jobState>

export const jobProgress = z.object({
  done: z.number().int(),
  /** How much there is to do; null as long as that is not known. */
  total: z.number().int().nullable(),
  /** Pieces a second, over the whole run so far. */
  rate: z.number(),
  /** Seconds that are left at that rate; null where that cannot be said. */
  secondsLeft: z.number().nullable(),
})
export type JobProgress = z.infer<typeof jobProgress>

export const jobInfo = z.object({
  id: z.string(),
  kind: jobKind,
  title: z.string(),
  state: jobState,
  progress: jobProgress,
  /** ISO date and time. */
  begun: z.string(),
  ended: z.string().nullable(),
  error: errorReport.nullable(),
  /** Of a proof: names the code that it is measured on. */
  code: z.string().nullable(),
})
export type JobInfo = z.infer<typeof jobInfo>

/** A job with the results so far. */
export const job = z.object({ job: jobInfo, results: z.array(jobResult) })
export type Job = z.infer<typeof job>

/**
 * What a job tells over server-sent events: `state` with everything so far when a listener comes, then `result` for each
 * result and `progress` in between, and `end`. The data of each event is one of these as JSON.
 */
export const jobEvent = z.discriminatedUnion('event', [
  z.object({ event: z.literal('state'), job: jobInfo, results: z.array(jobResult) }),
  z.object({ event: z.literal('result'), result: jobResult }),
  z.object({ event: z.literal('progress'), job: jobInfo }),
  z.object({ event: z.literal('end'), job: jobInfo }),
])
export type JobEvent = z.infer<typeof jobEvent>
