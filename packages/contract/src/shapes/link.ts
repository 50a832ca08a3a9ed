import { z } from 'zod'
import { projectChange } from './project-change.js'

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

/** What the application tells a page that is open. */
export const projectEvent = z.object({
  /** The project's revision now. */
  revision: z.string(),
  /** How the project came to it; null where that is not known, so that anyone who has another one has to ask for the project. */
  change: projectChange.nullable(),
  link: linkState.nullable(),
})
export type ProjectEvent = z.infer<typeof projectEvent>
