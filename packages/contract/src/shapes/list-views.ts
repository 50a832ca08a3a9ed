import { z } from 'zod'
import { where } from './records.js'
import { name } from './values.js'

/** Views of a table's list that are kept by a name: which records, in which order, with which columns. */

/** As people write it; no control signs. */
export const viewName = z
  .string()
  .max(60)
  .regex(/^[^\p{C}\s](?:[^\p{C}]*[^\p{C}\s])?$/u, 'must be a name of letters, digits and signs, without spaces around it')

export const listQuery = z.strictObject({
  search: z.string().max(200).default(''),
  /** Field names with commas between, - before one for falling order; empty: by id. */
  order: z.string().max(300).default(''),
  where: where.default({}),
  /** Names of fields in the order in which they are shown; null: all. */
  columns: z.array(name).max(500).nullable().default(null),
})
export type ListQuery = z.infer<typeof listQuery>

export const listView = z.object({
  table: z.string(),
  name: z.string(),
  query: listQuery,
  user: z.string(),
  /** ISO date and time, UTC. */
  at: z.string(),
})
export type ListView = z.infer<typeof listView>
