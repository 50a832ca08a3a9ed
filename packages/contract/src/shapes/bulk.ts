import { z } from 'zod'
import { BULK_PROPERTIES } from '../words.js'
import { inputRow } from './saves.js'

/** The bulk proof: measured evidence that a hook treats a batch as it treats single records, and how its cost grows. */

export const bulkProperty = z.enum(BULK_PROPERTIES)

/** What a save of so many rows cost. */
export const growthPoint = z.object({
  rows: z.number().int(),
  queries: z.number().int(),
  rowsRead: z.number().int(),
  steps: z.number().int(),
  ms: z.number(),
})
export type GrowthPoint = z.infer<typeof growthPoint>

export const growth = z.object({
  points: z.array(growthPoint),
  /** The slope of a line through the points with logarithms on both axes: 1 is in proportion to the rows. */
  exponents: z.object({ steps: z.number(), rowsRead: z.number() }),
  /** Why larger batches were not measured; null where all were. */
  limit: z.string().nullable(),
})
export type Growth = z.infer<typeof growth>

export const bulkVerdict = z.object({
  /** Null: the whole save path of the table. */
  hook: z.string().nullable(),
  table: z.string(),
  property: bulkProperty,
  holds: z.boolean(),
  /** It does not hold, and that is accepted, with the reason that plugin.json gives. */
  accepted: z.boolean(),
  /** Why it does not hold, or is accepted; null where it holds. */
  reason: z.string().nullable(),
  /** The smallest batch that shows it; null where it holds. */
  batch: z.array(inputRow).nullable(),
  /** The fixture set that it was tried on; null: no records but those that were made for it. */
  fixtures: z.string().nullable(),
  /** Hooks that were left out, since they are accepted for this property. */
  without: z.array(z.string()),
  /** Rows that were saved to find out, and for how many of them the hook ran. */
  rows: z.number().int(),
  ran: z.number().int(),
  growth: growth.nullable(),
})
export type BulkVerdict = z.infer<typeof bulkVerdict>
