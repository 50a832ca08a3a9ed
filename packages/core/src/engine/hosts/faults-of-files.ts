import { describeAll, HookError } from '../../errors.js'

/** Faults of a project's files, told apart from whatever else may go wrong on the way. */

const isOfFiles = (error: unknown): error is HookError => HookError.is(error) && !/^(request|engine|store)\//.test(error.code)

/** @returns what the work gives, or in words what is wrong with the files @throws whatever else the work throws */
export async function orFaults<T>(work: () => Promise<T>): Promise<{ value: T; faults: [] } | { value: null; faults: string[] }> {
  try {
    return { value: await work(), faults: [] }
  } catch (error) {
    if (!isOfFiles(error)) throw error
    return { value: null, faults: describeAll(error.report) }
  }
}
