import { describe, type ErrorReport } from '../../errors.js'

/** The first of what was refused, or why it failed, in one line. */
export const failureWord = (error: ErrorReport): string => describe(error.refusals?.[0] ?? error)
