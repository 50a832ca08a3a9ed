import { z } from 'zod'
import { projectInfo } from './project.js'

/** A folder at work: working copy and folder are kept the same, in both directions. */

export const linkConflict = z.object({
  file: z.string(),
  /** Changed on both sides since they were last the same, or a table, which the Model view changes. */
  why: z.enum(['both', 'model']),
  /** Null where the side has no such file. */
  folder: z.string().nullable(),
  application: z.string().nullable(),
})
export type LinkConflict = z.infer<typeof linkConflict>

export const linkState = z.object({
  folder: z.string(),
  conflicts: z.array(linkConflict),
  /** Why what the folder has could not be taken, such as code that cannot be compiled; null where it was. */
  trouble: z.array(z.string()),
})
export type LinkState = z.infer<typeof linkState>

/** What the application tells a page that is open: the project as it is now, and the files that are others than before. */
export const projectEvent = z.object({ info: projectInfo, files: z.array(z.string()), link: linkState.nullable() })
export type ProjectEvent = z.infer<typeof projectEvent>
