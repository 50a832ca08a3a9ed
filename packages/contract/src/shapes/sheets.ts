import { z } from 'zod'
import { errorReport } from './errors.js'
import { eventName } from './project.js'
import { logLine, rowOut, sent, spent, verdict } from './saves.js'
import { anyName, clock, files, name, recordId, user, values } from './values.js'

/** The effect sheet: what a save of the rows of one table would do, as a rehearsal. */

/** Where a rehearsal or a sheet runs: on a fixture set, or on the live records. */
export const ground = z.strictObject({
  fixtures: anyName.optional(),
  /** The live records as they were before this save. */
  before: z.number().int().positive().optional(),
  /** Texts of files as edited, over those that are saved. */
  drafts: files.optional(),
})
export type Ground = z.infer<typeof ground>

export const sheetRequest = z.strictObject({
  table: name,
  /** create: as if each record were new; update: with a change; delete: as if each were removed. */
  event: eventName,
  /** For create: fields that are not typed, so that a hook may set them. */
  leaveOut: z.array(anyName).max(1000).optional(),
  /** For update: fields that are pretended to change, each to another value that it takes. */
  touch: z.array(anyName).max(1000).optional(),
  /** For update: values that are typed into every row; overrule `touch`. */
  values: values.optional(),
  /** Typed values of single rows, by id; overrule both. */
  typed: z.record(z.string(), values).optional(),
  user: user.optional(),
  clock: clock.optional(),
  /** At most so many rows. */
  limit: z.number().int().positive().optional(),
  /** The row whose values are recorded line by line, by id; default: the first. */
  focus: recordId.optional(),
  /** Fields whose values are reported about every row, beside those to which anything happened in any row; default: all. */
  show: z.array(anyName).max(1000).optional(),
})
export type SheetRequest = z.infer<typeof sheetRequest>

/** Verdicts that are the same but for the row: a sheet of 500 rows and seven hooks has 3500 of them, and few reasons. */
export const verdictGroup = verdict.omit({ id: true, read: true, changed: true }).extend({ ids: z.array(z.number().int()) })
export type VerdictGroup = z.infer<typeof verdictGroup>

export const valueTrace = z.object({
  name: z.string(),
  /** How many values came about. */
  count: z.number().int(),
  first: z.string(),
  last: z.string(),
})
export type ValueTrace = z.infer<typeof valueTrace>

/** What was recorded of one line: its values for the chosen row, or of the batch where code runs once for all rows. */
export const lineTrace = z.object({
  file: z.string(),
  /** From 1. */
  line: z.number().int(),
  hook: z.string(),
  /** `row`: in only or each, for the chosen row; `batch`: in load or finish, for all rows at once. */
  of: z.enum(['row', 'batch']),
  /** How often a statement of the line began. */
  runs: z.number().int(),
  /** Turns of the loop that begins on this line; 0 where there is none. */
  turns: z.number().int(),
  values: z.array(valueTrace),
})
export type LineTrace = z.infer<typeof lineTrace>

export const sheet = z.object({
  table: z.string(),
  event: eventName,
  /** Records there are in the table. */
  total: z.number().int(),
  rows: z.array(rowOut),
  ripples: z.array(rowOut),
  verdicts: z.array(verdictGroup),
  refusals: z.array(errorReport),
  /** An error of the whole save, such as a spent budget. */
  error: errorReport.nullable(),
  sent: z.array(sent),
  logs: z.array(logLine),
  spent,
  ran: z.record(z.string(), z.number().int()),
  /** The id of the row whose values are in `lines`; null when there is no row. */
  focus: z.number().int().nullable(),
  /** What each line did for that row; empty where code is not probed. */
  lines: z.array(lineTrace),
})
export type Sheet = z.infer<typeof sheet>
