import { z } from 'zod'
import { LONGEST_NAME } from '../limits.js'

/** Values, records and names as they cross HTTP, processes and the command line. */

/** What a field holds: a JSON value of one of the four types, or null when it has none. */
export const value = z.union([z.string(), z.number(), z.boolean(), z.null()])
export type Value = z.infer<typeof value>

export const values = z.record(z.string(), value)
export type Values = z.infer<typeof values>

/** A record as stored: `id` and every field of its table. */
export const recordValues = z.intersection(values, z.object({ id: z.number().int() }))
export type RecordValues = z.infer<typeof recordValues>

/** Longest text of one project file, in characters. */
export const LONGEST_FILE = 1_000_000
/** Longest text of a file of records to be read into a table, in characters. */
export const LONGEST_RECORDS = 30_000_000
export { MOST_ROWS } from '../limits.js'

export const name = z
  .string()
  .max(LONGEST_NAME)
  .regex(/^[a-z][A-Za-z0-9_]*$/, 'expected a name: letters, digits and _ only, a small letter first')
/** A name of whatever kind: whether there is such a thing is for the engine to say. */
export const anyName = z.string().min(1).max(LONGEST_NAME)
export const user = z.string().min(1).max(100)
export const recordId = z.number().int().positive().max(Number.MAX_SAFE_INTEGER)
/** The same where it comes as text, in an address. */
export const recordIdText = z.coerce.number().int().positive().max(Number.MAX_SAFE_INTEGER)
/** ISO 8601 date and time; whether it is one is for the engine to say. */
export const clock = z.string().min(1).max(40)

/** Texts of project files by path from the project's folder. */
export const files = z.record(z.string().max(300), z.string().max(LONGEST_FILE))
export type Files = z.infer<typeof files>
