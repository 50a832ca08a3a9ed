import { z } from 'zod'
import { inputRow } from './saves.js'

/** Small wrong changes of hooks, and whether the unit tests notice them. */

export const mutantResult = z.object({
  hook: z.string(),
  file: z.string(),
  line: z.number().int(),
  /** Which mistake it is. */
  kind: z.string(),
  from: z.string(),
  to: z.string(),
  /**
   * `caught`: a test failed; `missed`: none did, and a batch shows the difference; `equal`: none did, and no batch that was tried tells
   * the two apart; `stopped`: the code could not be loaded, or no test saves what the hook looks at.
   */
  outcome: z.enum(['caught', 'missed', 'equal', 'stopped']),
  /** Of a missed one: why no test need notice it, as plugin.json says under `misses`; null where it says nothing. */
  reason: z.string().nullable(),
  /** The test that caught it, or why it was stopped. */
  by: z.string().nullable(),
  /** What a record comes out as without the change, and with it. */
  shows: z.string().nullable(),
  batch: z.array(inputRow).nullable(),
  fixtures: z.string().nullable(),
})
export type MutantResult = z.infer<typeof mutantResult>
