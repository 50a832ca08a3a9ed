import { z } from 'zod'
import { errorReport } from './errors.js'
import { value } from './values.js'

/** Fixture sets as rows that are being edited. */

/** By field, `id` among them; what does not fit its field stands as it was typed. */
export const fixtureRow = z.record(z.string().max(200), value)
export type FixtureRow = z.infer<typeof fixtureRow>

export const fixtureTable = z.object({
  table: z.string(),
  file: z.string(),
  rows: z.array(fixtureRow),
  /** Why the file cannot be read as rows; null where it can. */
  unread: errorReport.nullable(),
})
export type FixtureTable = z.infer<typeof fixtureTable>

export const fixtureFault = z.object({
  table: z.string(),
  /** From 0. */
  row: z.number().int(),
  field: z.string().nullable(),
  message: z.string(),
})
export type FixtureFault = z.infer<typeof fixtureFault>

export const fixtureSet = z.object({ tables: z.array(fixtureTable), faults: z.array(fixtureFault) })
export type FixtureSet = z.infer<typeof fixtureSet>

/** Texts of files, to be kept or thrown away by the caller, and the set as it is with them. */
export const fixtureChange = fixtureSet.extend({
  files: z.record(z.string(), z.string()),
  /** What was not done, or done otherwise than one might think. */
  notices: z.array(z.string()),
})
export type FixtureChange = z.infer<typeof fixtureChange>
