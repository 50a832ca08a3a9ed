import { z } from 'zod'

/** A copy of all records and files, made while the application runs. */
export const backup = z.object({
  /** Path from the application's folder. */
  file: z.string(),
  /** ISO date and time. */
  at: z.string(),
  bytes: z.number().int(),
})
export type Backup = z.infer<typeof backup>
export const backupResult = z.object({ backup })
