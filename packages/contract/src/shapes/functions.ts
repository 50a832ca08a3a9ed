import { z } from 'zod'
import { errorReport } from './errors.js'
import { lineTrace } from './sheets.js'

/** An exported function of a plugin's lib, called with typed-in arguments. */

/** Arguments that are given at most, and characters of one as JSON. */
const MOST_ARGUMENTS = 50

export const argument = z.strictObject({
  /** JSON; for a map a list of pairs, for a set a list. Left out: undefined. */
  value: z.unknown(),
  as: z.enum(['map', 'set']).optional(),
})
export type Argument = z.infer<typeof argument>

export const functionCall = z.strictObject({
  file: z.string().max(300),
  name: z.string().min(1).max(200),
  args: z.array(argument).max(MOST_ARGUMENTS),
})
export type FunctionCall = z.infer<typeof functionCall>

export const functionResult = z.object({
  /** In a few characters, and as JSON; null where it threw. */
  result: z.object({ text: z.string(), json: z.unknown() }).nullable(),
  error: errorReport.nullable(),
  /** What each line did. */
  lines: z.array(lineTrace),
  steps: z.number().int(),
  ms: z.number(),
})
export type FunctionResult = z.infer<typeof functionResult>
