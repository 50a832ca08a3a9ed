import { z } from 'zod'
import { value } from './values.js'

/** Why a field holds what it holds: step by step back to what somebody typed. */

const cell = z.object({ table: z.string(), id: z.number().int(), field: z.string() })

/** A value that may have had a part in it. */
export const whySource = cell.extend({
  /** What it held then. */
  value,
  /** The same value: it was copied, as far as that can be determined. */
  same: z.boolean(),
  /** It changed in the same save. */
  changed: z.boolean(),
})
export type WhySource = z.infer<typeof whySource>

export const whyStep = cell.extend({
  /** What people call the record. */
  label: z.string(),
  value,
  /** The save that set it; null where no save did: it came with the records that the application began with, or was loaded. */
  save: z.number().int().nullable(),
  at: z.string().nullable(),
  user: z.string().nullable(),
  /** How deep in the ripples of that save; 0: not in a ripple. */
  depth: z.number().int(),
  from: value,
  /** `typed`, `default`, `link`, `backfill`, `model`, or `plugin/hook@version`; null where no save set it. */
  by: z.string().nullable(),
  /** The backfill whose save it was. */
  job: z.number().int().nullable(),
  /** What the hook looked at, most telling first; the next step is the first of them. */
  sources: z.array(whySource),
})
export type WhyStep = z.infer<typeof whyStep>

export const why = z.object({ steps: z.array(whyStep) })
export type Why = z.infer<typeof why>
