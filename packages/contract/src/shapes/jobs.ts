import { z } from 'zod'
import { errorReport } from './errors.js'
import { testResult } from './tests.js'

/** Long work that can be watched and stopped. */

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
  /** What kind of work: `tests`. */
  kind: z.string(),
  title: z.string(),
  state: jobState,
  progress: jobProgress,
  /** ISO date and time. */
  begun: z.string(),
  ended: z.string().nullable(),
  error: errorReport.nullable(),
})
export type JobInfo = z.infer<typeof jobInfo>

/** A test run: the job, with the results so far. */
export const testRun = z.object({ job: jobInfo, results: z.array(testResult) })
export type TestRun = z.infer<typeof testRun>

/**
 * What a job tells over server-sent events: `state` with everything so far when a listener comes, then `result` for each
 * result and `progress` in between, and `end`. The data of each event is one of these as JSON.
 */
export const jobEvent = z.discriminatedUnion('event', [
  z.object({ event: z.literal('state'), job: jobInfo, results: z.array(testResult) }),
  z.object({ event: z.literal('result'), result: testResult }),
  z.object({ event: z.literal('progress'), job: jobInfo }),
  z.object({ event: z.literal('end'), job: jobInfo }),
])
export type JobEvent = z.infer<typeof jobEvent>
