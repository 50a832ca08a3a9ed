import { z } from 'zod'
import { codeFinding } from './findings.js'
import { changeKind } from './releases.js'

/** In and out of the house: plugins and projects as zips, records as CSV. */

/** What taking in a zip would do, before anything is kept. */
export const importPlan = z.object({
  /** Plugins whose working copies become those of the zip. */
  plugins: z.array(z.object({ plugin: z.string(), version: z.string().nullable(), from: z.string().nullable() })),
  /** Files that come in, change or go. */
  files: z.array(z.object({ file: z.string(), change: changeKind })),
  /** Files of the zip that are not taken, with the reason. */
  left: z.array(z.object({ file: z.string(), why: z.string() })),
  /** Tables and fields that its hooks use and that are not here. */
  needs: z.array(z.object({ hook: z.string(), table: z.string(), field: z.string().nullable() })),
  /** Names that are taken, and whatever else keeps it from being loaded; where there is any it is not imported. */
  faults: z.array(z.string()),
  /** Findings in what comes in. */
  findings: z.array(codeFinding),
  tests: z.object({ passed: z.number().int(), failed: z.number().int(), failures: z.array(z.string()) }),
})
export type ImportPlan = z.infer<typeof importPlan>
