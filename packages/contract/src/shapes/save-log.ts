import { z } from 'zod'
import { errorReport } from './errors.js'
import { inputRow, spent } from './saves.js'

/** The log of saves: who saved what when, what ran in it and what it cost; saves that were refused or failed, too. */

export const saveEntry = z.object({
  /** A kept save's number; of one that was not kept, its number in the log of those. */
  id: z.number().int(),
  /** Refused by a check or a hook; failed by an error of a hook, a budget or the engine. A kept save may have left refused rows out. */
  state: z.enum(['kept', 'refused', 'failed']),
  /** ISO date and time. */
  at: z.string(),
  user: z.string(),
  /** Rows that it was given. */
  rows: z.number().int(),
  ms: z.number().nullable(),
  spent,
  /** The budget of which the greatest part was spent, and that part; null of old saves. */
  budget: z.string().nullable(),
  share: z.number().nullable(),
  /** By plugin, the version that ran; null of old saves. */
  versions: z.record(z.string(), z.string()).nullable(),
  /** The backfill that it was a batch of. */
  job: z.number().int().nullable(),
  /** Is it kept what it was given, so it can be rehearsed? */
  given: z.boolean(),
  /** Of one that was not kept. */
  error: errorReport.nullable(),
})
export type SaveEntry = z.infer<typeof saveEntry>

export const SAVE_FILTERS = ['all', 'kept', 'not-kept'] as const

/** A record that a save wrote, and how. */
export const savedRecord = z.object({
  table: z.string(),
  id: z.number().int(),
  /** What people call it now; null for a record that was removed since. */
  title: z.string().nullable(),
  event: z.string(),
  depth: z.number().int(),
  changes: z.array(z.object({ field: z.string(), from: z.unknown(), to: z.unknown(), by: z.string() })),
})
export type SavedRecord = z.infer<typeof savedRecord>

export const saveStory = z.object({
  save: saveEntry,
  /** How many records were written, and the first of them in the order of writing. */
  written: z.number().int(),
  records: z.array(savedRecord),
  /** What it was given; null where that was not kept. */
  rows: z.array(inputRow).nullable(),
})
export type SaveStory = z.infer<typeof saveStory>

export const saveFigures = z.object({
  /** By the beginning of each hour: saves that were kept (batches of backfills aside), their milliseconds, and those that were not. */
  hours: z.array(
    z.object({
      hour: z.string(),
      saves: z.number().int(),
      p50: z.number(),
      p95: z.number(),
      notKept: z.number().int(),
    }),
  ),
  /** By hook, the slowest first: rows it ran for, refusals, failures, milliseconds. */
  hooks: z.array(
    z.object({ hook: z.string(), ran: z.number().int(), refused: z.number().int(), failed: z.number().int(), ms: z.number() }),
  ),
  /** Why saves were not kept, the most frequent first. */
  reasons: z.array(z.object({ hook: z.string().nullable(), code: z.string(), message: z.string(), count: z.number().int() })),
  /** Saves that came near the limit of a budget, the nearest first. */
  near: z.array(saveEntry),
})
export type SaveFigures = z.infer<typeof saveFigures>
