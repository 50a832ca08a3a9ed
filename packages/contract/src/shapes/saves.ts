import { z } from 'zod'
import { BUDGETS } from '../limits.js'
import { errorReport } from './errors.js'
import { eventName } from './project.js'
import { MOST_ROWS, recordId, recordValues, value } from './values.js'
import { LONGEST_NAME } from '../limits.js'

/** What goes into a save and what comes out of it. */

/** A link to another row of the same save, by the name it was given with `as`. */
export const ref = z.strictObject({ ref: z.string().max(LONGEST_NAME) })
export type Ref = z.infer<typeof ref>
export const inputValues = z.record(z.string(), z.union([value, ref]))
export type InputValues = { [field: string]: z.infer<typeof value> | Ref | undefined }

export const inputRow = z.strictObject({
  table: z.string().max(LONGEST_NAME),
  /** With `id`: an update of that record. */
  values: inputValues.optional(),
  id: recordId.optional(),
  /** A name for this row, so that other rows of the save can link to it. */
  as: z.string().max(LONGEST_NAME).optional(),
  /** Create a copy of this record, overlaid with the values. */
  copyOf: recordId.optional(),
  /** What fields of the record are expected to hold as it is stored: where one does not, it was changed since, and the row is refused. */
  expect: z.record(z.string(), value).optional(),
  /** Remove the record. */
  remove: z.boolean().optional(),
})
export type InputRow = Omit<z.infer<typeof inputRow>, 'values'> & { values?: InputValues }
export const inputRows = z.array(inputRow).min(1).max(MOST_ROWS)

export type Budget = (typeof BUDGETS)[number]
/** What a save spent: counts, and milliseconds. `ripples` is the greatest depth that was reached. */
export const spent = z.record(z.enum(BUDGETS), z.number())
export type Spent = z.infer<typeof spent>

/** A line of a project's code, from 1. */
export const place = z.object({ file: z.string(), line: z.number().int() })
export type Place = z.infer<typeof place>

/** How a value came about; shown by letter and hue: T, H, R, N. */
export const valueKind = z.enum(['typed', 'hook', 'ripple', 'sequence'])
export type ValueKind = z.infer<typeof valueKind>

export const change = z.object({
  field: z.string(),
  from: value,
  to: value,
  /** The line that set it, or asked for it as an effect; only where code was probed. */
  at: place.optional(),
  /** `typed`, `default`, the hook's name, or `link` for a link that was cleared because its record went; empty for what went with its own record. */
  by: z.string(),
  kind: valueKind,
  /** What was typed into the field in the same save, and does not stand. */
  overwrites: value.optional(),
})
export type ChangeOut = z.infer<typeof change>

export const rowOut = z.object({
  table: z.string(),
  id: z.number().int(),
  event: eventName,
  depth: z.number().int(),
  /** 1-based row of the input, 0 for a ripple. */
  row: z.number().int(),
  was: recordValues.nullable(),
  now: recordValues.nullable(),
  changes: z.array(change),
})
export type RowOut = z.infer<typeof rowOut>

export const verdict = z.object({
  hook: z.string(),
  table: z.string(),
  id: z.number().int(),
  depth: z.number().int(),
  verdict: z.enum(['ran', 'skipped']),
  reason: z.string(),
  /** The values that its guard read, where that said no. */
  read: z.record(z.string(), value).optional(),
  /** Fields that did change, where none of them is watched. */
  changed: z.array(z.string()).optional(),
})
export type Verdict = z.infer<typeof verdict>

export const lookup = z.object({
  hook: z.string(),
  part: z.enum(['load', 'finish']),
  call: z.enum(['byId', 'children', 'find', 'rollup']),
  table: z.string(),
  /** What it was asked with: `ids` (the first of them), `link`, `where`, `fields` and so on. */
  asked: z.record(z.string(), z.unknown()),
  /** Records that it found. */
  found: z.number().int(),
  /** The ids of the first of these; of a roll-up, the ids that it was asked for. */
  ids: z.array(z.number().int()),
  depth: z.number().int(),
})
export type Lookup = z.infer<typeof lookup>
export const sent = z.object({ channel: z.string(), message: z.unknown(), hook: z.string() })
export type Sent = z.infer<typeof sent>
export const logLine = z.object({
  hook: z.string(),
  table: z.string(),
  id: z.number().int().nullable(),
  text: z.string(),
})
export type LogLine = z.infer<typeof logLine>

export const saveResult = z.object({
  /** The save's number; null when no changes were saved. */
  save: z.number().int().nullable(),
  kept: z.boolean(),
  refusals: z.array(errorReport),
  /** Records in the order of the input; null for a refused or removed one. */
  records: z.array(recordValues.nullable()),
  rows: z.array(rowOut),
  verdicts: z.array(verdict),
  lookups: z.array(lookup),
  sent: z.array(sent),
  logs: z.array(logLine),
  spent,
  /** What it might have spent. */
  limits: spent,
  /** Rows for which each hook ran, by the hook's name. */
  ran: z.record(z.string(), z.number().int()),
  /** Milliseconds that each hook took, by the hook's name. */
  took: z.record(z.string(), z.number()),
})
export const saveOutcome = saveResult.extend({
  /** Why no changes were saved. */
  error: errorReport.nullable(),
})
export type SaveResult = z.infer<typeof saveResult>
export type SaveOutcome = z.infer<typeof saveOutcome>
