import { z } from 'zod'
import { table } from './tables.js'

/** A project as the interface sees it: tables, hooks in save-path order, fixture sets. */

export const eventName = z.enum(['create', 'update', 'delete'])
export type EventName = z.infer<typeof eventName>
export const moment = z.enum(['before-save', 'after-save', 'before-commit'])
export type Moment = z.infer<typeof moment>

/** How a hook is released: on for all, for some users only, or not at all. */
export const hookState = z.union([
  z.object({ state: z.literal('live') }),
  z.object({ state: z.literal('pilot'), users: z.array(z.string()).readonly() }),
  z.object({ state: z.literal('off') }),
])
export type HookState = z.infer<typeof hookState>

export const hookInfo = z.object({
  name: z.string(),
  plugin: z.string(),
  file: z.string(),
  table: z.string(),
  moment,
  on: z.array(eventName),
  watch: z.array(z.string()),
  after: z.array(z.string()),
  parts: z.array(z.string()),
  /** Fields of the hook’s table that its code reads and writes. */
  reads: z.array(z.string()),
  writes: z.array(z.string()),
  /** Every field that its code reads or writes, in any table. */
  uses: z.array(z.object({ table: z.string(), field: z.string(), kind: z.enum(['read', 'write']) })),
  state: hookState,
})
export type HookInfo = z.infer<typeof hookInfo>

export const projectInfo = z.object({
  /** Another one whenever anything of the project has changed. */
  revision: z.string(),
  name: z.string(),
  title: z.string(),
  users: z.array(z.object({ name: z.string(), title: z.string() })),
  tables: z.array(table),
  plugins: z.array(
    z.object({
      name: z.string(),
      version: z.string(),
      description: z.string(),
      tests: z.array(z.string()),
      lib: z.array(z.string()),
    }),
  ),
  /** In save-path order within a table and moment. */
  hooks: z.array(hookInfo),
  /** Each with the number of its records by table. */
  fixtures: z.array(z.object({ name: z.string(), tables: z.record(z.string(), z.number().int()) })),
  sequences: z.array(z.string()),
  batchSize: z.number().int(),
})
export type ProjectInfo = z.infer<typeof projectInfo>
