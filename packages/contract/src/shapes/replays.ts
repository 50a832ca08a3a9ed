import { z } from 'zod'
import { errorReport } from './errors.js'
import { inputRow } from './saves.js'
import { value } from './values.js'

/** Kept saves, run again with the working copy. */

/** Most saves that are run again at once; of older ones it is not kept what they were given. */
export const MOST_REPLAYED = 1000

/** One thing that would have come out differently. */
export const difference = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('value'),
    table: z.string(),
    id: z.number().int(),
    field: z.string(),
    /** What the save left in the field, and what it would leave there now. */
    then: value,
    now: value,
    /** Who set it; null: nobody. */
    byThen: z.string().nullable(),
    byNow: z.string().nullable(),
  }),
  z.object({
    kind: z.literal('record'),
    table: z.string(),
    id: z.number().int(),
    then: z.enum(['created', 'changed', 'removed', 'untouched']),
    now: z.enum(['created', 'changed', 'removed', 'untouched']),
    /** Who set its fields, then or now. */
    by: z.array(z.string()),
  }),
  z.object({
    kind: z.literal('message'),
    channel: z.string(),
    hook: z.string(),
    /** Null: none was, or would be, sent. */
    then: z.unknown(),
    now: z.unknown(),
  }),
])
export type Difference = z.infer<typeof difference>

export const replayedSave = z.object({
  save: z.number().int(),
  /** ISO date and time. */
  at: z.string(),
  user: z.string(),
  outcome: z.enum(['same', 'different', 'refused', 'failed', 'not-run']),
  /** Why it would be refused or fail, or was not run. */
  error: errorReport.nullable(),
  /** The first rows that it was given. */
  rows: z.array(inputRow),
  /** The first differences. */
  differences: z.array(difference),
  /** How many there are in all. */
  differing: z.number().int(),
})
export type ReplayedSave = z.infer<typeof replayedSave>

/** A save as it was given, to be rehearsed again. */
export const givenSave = z.object({
  save: z.number().int(),
  at: z.string(),
  user: z.string(),
  partial: z.boolean(),
  rows: z.array(inputRow),
})
export type GivenSave = z.infer<typeof givenSave>
