import { HookError, type ErrorReport } from '../errors.js'

/** What is wrong in files that are read together: all of it is gathered, so it can be determined at once. */
export class Faults {
  readonly #reports: ErrorReport[] = []

  get none(): boolean {
    return this.#reports.length === 0
  }

  note(...errors: readonly HookError[]): void {
    for (const { report } of errors) {
      const { others = [], ...first } = report
      this.#reports.push(first, ...others)
    }
  }

  /** @returns undefined where the work threw an error of ours, which is kept */
  attempt<T>(work: () => T): T | undefined {
    try {
      return work()
    } catch (error) {
      if (!HookError.is(error)) throw error
      this.note(error)
      return undefined
    }
  }

  /** @throws HookError the first fault, the rest under `others` */
  throwIfAny(): void {
    const [first, ...others] = this.#reports
    if (first) throw new HookError(others.length > 0 ? { ...first, others } : first)
  }
}
