import { z } from 'zod'
import { errorReport } from './errors.js'
import { logLine, lookup, verdict } from './saves.js'

/** The result of one unit test. */
export const testResult = z.object({
  file: z.string(),
  name: z.string(),
  status: z.enum(['passed', 'failed', 'skipped']),
  /** Milliseconds. */
  ms: z.number(),
  line: z.number().int().nullable(),
  error: errorReport.extend({ expected: z.string().optional(), received: z.string().optional() }).nullable(),
  /** Of a failed test: what its saves did, the first of each. */
  verdicts: z.array(verdict).optional(),
  lookups: z.array(lookup).optional(),
  logs: z.array(logLine).optional(),
})
export type TestResult = z.infer<typeof testResult>
