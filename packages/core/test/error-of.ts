import { HookError, type ErrorReport } from '../src/errors.js'

/** The error that the work throws. @throws Error where it throws none, and whatever else it throws */
export const errorOf = (work: () => unknown): ErrorReport => {
  try {
    work()
  } catch (error) {
    if (error instanceof HookError) return error.report
    throw error
  }
  throw new Error('nothing was thrown')
}
