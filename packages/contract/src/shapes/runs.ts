import { z } from 'zod'
import { recordId, value } from './values.js'

/** What a recorded run tells: one list of events, in the order in which things happened. */

/** What a value is in a few characters, and as JSON where that is short enough. */
const shown = { text: z.string(), json: z.unknown().optional() }
const at = { file: z.string(), line: z.number().int() }

export const runEvent = z.discriminatedUnion('kind', [
  /** A hook's part begins: only and each for one row after the other, load and finish for the batch; or a function is called alone. */
  z.object({
    kind: z.literal('part'),
    hook: z.string(),
    part: z.enum(['only', 'load', 'each', 'finish', 'call']),
    depth: z.number().int(),
    /** From 1; a partial save goes through the rows again without the refused ones. */
    pass: z.number().int(),
  }),
  /** The part continues with this row. */
  z.object({ kind: z.literal('row'), table: z.string(), id: z.number().int() }),
  z.object({ kind: z.literal('line'), ...at }),
  /** An expression, a name or a test came to this. */
  z.object({ kind: z.literal('value'), ...at, name: z.string(), ...shown }),
  z.object({ kind: z.literal('turn'), ...at }),
  /** A field of the row is another than before this line. */
  z.object({ kind: z.literal('set'), ...at, field: z.string(), from: value, to: value }),
  /** Of a line that ran on and on only the first events are kept; this represents the rest. */
  z.object({
    kind: z.literal('more'),
    ...at,
    of: z.enum(['line', 'value', 'turn']),
    name: z.string(),
    count: z.number().int(),
    text: z.string(),
  }),
  /** The look-up with this place in the list of look-ups. */
  z.object({ kind: z.literal('lookup'), ...at, index: z.number().int() }),
  z.object({
    kind: z.literal('effect'),
    ...at,
    call: z.enum(['update', 'create', 'remove', 'send']),
    /** The table, or the channel. */
    to: z.string(),
    id: recordId.nullable(),
    /** The condition that names its records, in place of an id. */
    where: z.string().optional(),
    ...shown,
  }),
  z.object({ kind: z.literal('refuse'), ...at, field: z.string().nullable(), message: z.string() }),
  z.object({ kind: z.literal('log'), ...at, text: z.string() }),
])
export type RunEvent = z.infer<typeof runEvent>

export const runLog = z.object({
  events: z.array(runEvent),
  /** Events that are not here, since the log is full: the run went on. */
  leftOut: z.number().int(),
})
export type RunLog = z.infer<typeof runLog>
