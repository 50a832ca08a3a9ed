import { z } from 'zod'
import { tableDraft, tableEdit } from './tables.js'
import { LONGEST_RECORDS, name, values } from './values.js'

/** A change of the model: asked for, planned, and read out of files. */

export const modelEdit = z.strictObject({
  /** The table's name; with `edit` null the table goes. */
  table: name,
  edit: tableEdit.nullable(),
  /** The revision of the table that the edit began with, as its plan names it; null for a new table. */
  from: z.string().max(100).nullable().optional(),
  /** By field: the value of records that have none. */
  fills: values.optional(),
  /** For a new table: the records it begins with. */
  records: z
    .strictObject({
      file: z.string().max(300),
      text: z.string().max(LONGEST_RECORDS),
      columns: z.array(z.strictObject({ header: z.string().max(300), field: z.string().max(200).nullable() })).max(2000),
    })
    .optional(),
})
export type ModelEdit = z.infer<typeof modelEdit>

export const step = z.object({
  table: z.string(),
  field: z.string().nullable(),
  /** What is done, and to how many records what happens. */
  text: z.string(),
  /**
   * safe: nothing is lost. breaks: records stay as they are and will be refused when they are saved next.
   * loses: values go. blocked: it cannot be done before something else is.
   */
  effect: z.enum(['safe', 'breaks', 'loses', 'blocked']),
  records: z.number().int(),
  /** Ids of the first few of these records. */
  examples: z.array(z.number().int()),
  /** A value for records that have none would let it through. */
  wantsFill: z.boolean(),
})
export type Step = z.infer<typeof step>

export const modelPlan = z.object({
  steps: z.array(step),
  /** Files that change along. */
  files: z.array(z.string()),
  /** The revision of the current table; null where there is none. Another revision is a conflict. */
  revision: z.string().nullable(),
})
export type ModelPlan = z.infer<typeof modelPlan>

/** A table as it was read out of a file of records, to be corrected. */
export const inferred = z.object({
  edit: tableDraft,
  /** For each column: its header, and the name of its field (`id` for the records' own ids). */
  columns: z.array(z.object({ header: z.string(), field: z.string() })),
  rows: z.number().int(),
})
export type Inferred = z.infer<typeof inferred>
