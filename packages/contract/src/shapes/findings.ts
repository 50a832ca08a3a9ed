import { z } from 'zod'

/** What can be said of the code without running it: errors of types, and known traps. */

export const codeFinding = z.object({
  /** Its rule; an error of types has `TS` and a number. */
  rule: z.string(),
  severity: z.enum(['error', 'warning', 'info']),
  message: z.string(),
  file: z.string(),
  /** The hook that it is about; null for a table, a module or a test. */
  hook: z.string().nullable(),
  /** From 1. */
  line: z.number().int(),
  column: z.number().int(),
})
export type CodeFinding = z.infer<typeof codeFinding>
