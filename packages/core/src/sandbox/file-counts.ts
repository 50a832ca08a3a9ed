import type { FileCoverageData } from 'istanbul-lib-coverage'

/** How often each statement, function and branch ran: by its number in the file's coverage data, those that did not run left out. */
export interface Counts {
  s: Record<string, number>
  f: Record<string, number>
  b: Record<string, number[]>
}

/** The counters of one file. What runs when the module is loaded is kept apart: it belongs to no test. */
export class FileCounts {
  /** What the code counts with. */
  readonly data: FileCoverageData
  #loading: Counts = { s: {}, f: {}, b: {} }

  /** @param of what there is to count */
  constructor(readonly of: FileCoverageData) {
    this.data = structuredClone(of)
  }

  get loading(): Counts {
    return this.#loading
  }

  /** The module has been loaded. */
  keepLoading(): void {
    this.#loading = this.take()
  }

  /** What was counted since it was asked for last. */
  take(): Counts {
    const { s, f, b } = this.data
    return { s: taken(s), f: taken(f), b: takenBranches(b) }
  }
}

function taken(counters: Record<string, number>): Record<string, number> {
  const ran: Record<string, number> = {}
  for (const key in counters)
    if (counters[key]! > 0) {
      ran[key] = counters[key]!
      counters[key] = 0
    }
  return ran
}

function takenBranches(counters: Record<string, number[]>): Record<string, number[]> {
  const ran: Record<string, number[]> = {}
  for (const key in counters) {
    const paths = counters[key]!
    if (!paths.some((count) => count > 0)) continue
    ran[key] = [...paths]
    paths.fill(0)
  }
  return ran
}
