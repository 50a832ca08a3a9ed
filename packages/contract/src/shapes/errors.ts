import { z } from 'zod'

/** An error as plain data: what happened, where, what to do. The codes are in core/src/errors/ and docs/errors.md. */

/** Where an error stands: any of these may be known. Rows count from 1, in the order they were given. */
export const errorPlace = z.object({
  hook: z.string().optional(),
  file: z.string().optional(),
  /** From 1. */
  line: z.number().int().optional(),
  column: z.number().int().optional(),
  table: z.string().optional(),
  row: z.number().int().optional(),
  id: z.number().int().nullable().optional(),
  field: z.string().nullable().optional(),
})
export type ErrorPlace = z.infer<typeof errorPlace>

export const errorReport = errorPlace
  .extend({
    code: z.string(),
    message: z.string(),
    todo: z.string(),
    /** Whether a save that ended in this error is kept all the same: only where that had to be found out. */
    kept: z.boolean().optional(),
    /** Every refused row, where the save was refused. */
    get refusals(): z.ZodOptional<z.ZodArray<typeof errorReport>> {
      return z.array(errorReport).optional()
    },
    /** Several errors of one kind, such as all that is wrong with a project folder. */
    get others(): z.ZodOptional<z.ZodArray<typeof errorReport>> {
      return z.array(errorReport).optional()
    },
  })
  .meta({ id: 'ErrorReport' })
export type ErrorReport = z.infer<typeof errorReport>

/** The body of every answer that is no success. */
export const errorAnswer = z.object({ error: errorReport })
