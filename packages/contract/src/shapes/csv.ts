import { z } from 'zod'
import { errorReport } from './errors.js'
import { savedRecord } from './save-log.js'
import { anyName } from './values.js'

/** Rows of a CSV file on their way in: what its columns are read as, and what a save of them does. */

export const csvColumn = z.object({
  head: z.string(),
  /** The field, or id, whose name or label the head is; null: none. */
  field: z.string().nullable(),
  /** Some of its cells. */
  samples: z.array(z.string()),
})
export type CsvColumn = z.infer<typeof csvColumn>
export const csvColumns = z.object({ rows: z.number().int(), columns: z.array(csvColumn) })
export type CsvColumns = z.infer<typeof csvColumns>

/** By a column's head: the field that it is read as (or id), of a link by which field of its table its cells name the record; null: left out. */
export const csvMapping = z.record(z.string().max(1000), z.strictObject({ field: anyName, by: anyName.optional() }).nullable())
export type CsvMapping = z.infer<typeof csvMapping>

/** What a save of a file's rows did, or would do. */
export const csvResult = z.object({
  rows: z.number().int(),
  /** The save's number; null when no changes were saved. */
  save: z.number().int().nullable(),
  /** Of a large file, which is saved batch by batch: the backfill that does it, by which it can be resumed or undone. */
  backfill: z.number().int().nullable(),
  created: z.number().int(),
  changed: z.number().int(),
  /** Rows whose record is as it was. */
  same: z.number().int(),
  /** Rows that are left out, and the reasons of the first of them; a reason names its row in the file, from 1. */
  refused: z.number().int(),
  refusals: z.array(errorReport),
  /** Why nothing is kept. */
  error: errorReport.nullable(),
  /** Other records that change with them. */
  ripples: z.number().int(),
  messages: z.number().int(),
  /** The first records with what becomes of them. */
  records: z.array(savedRecord),
})
export type CsvResult = z.infer<typeof csvResult>
