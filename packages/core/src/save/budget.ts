import { HookError, type ErrorPlace } from '../errors.js'
import type { Meter, StepLimit } from '../sandbox/meter.js'
import { CELL, pulse, watchedCells } from '../watch.js'
import { BUDGETS, type Budget, type Project, type Spent } from '../model/types.js'

/**
 * What one save may use. The defaults are for each batch of the input (they grow with the number of batches), so that a
 * backfill of 200,000 records passes and a query per row does not; what project.json sets holds for the whole save.
 *
 * queries 100: a save path of 30 hooks with three look-ups each still passes; a look-up per row of a batch of 500 does not.
 * rowsRead 200,000: 400 records looked up for each row of a batch of 500.
 * rowsWritten 100,000: each row of a batch of 500 pushing to 200 children.
 * steps 20,000,000: 40,000 turns of a loop for each row of a batch of 500; about a tenth of a second.
 * ripples 8: deeper chains were all circles in practice (common practice of the trade is between 8 and 32).
 * ms 20,000: milliseconds by the wall clock.
 */
export const DEFAULT_BUDGETS: Record<Budget, number> = {
  queries: 100,
  rowsRead: 200_000,
  rowsWritten: 100_000,
  steps: 20_000_000,
  ripples: 8,
  ms: 20_000,
}

const WORDS: Record<Budget, string> = {
  queries: 'queries',
  rowsRead: 'rows read',
  rowsWritten: 'rows written',
  steps: 'steps',
  ripples: 'ripple depth',
  ms: 'milliseconds',
}
/** What helps when a budget is spent. */
const ADVICE: Record<Budget, string> = {
  queries: 'Look up records in load, once for the whole batch, instead of once per row.',
  rowsRead: 'Read fewer records: narrow the condition, or use store.rollup instead of adding up rows.',
  rowsWritten: 'Change fewer records: narrow the condition of the effect, or save fewer rows at once.',
  steps: 'Look for a loop that does not end, or for work per row that can be done once per batch.',
  ripples: "Look for hooks that wake each other; ripples: 'others' lets a hook skip what it caused itself.",
  ms: 'Save fewer rows at once, or look for the slowest hook in Release, Hooks.',
}

/** Steps between two looks at the clock within hook code. */
const LOOK = 1_000_000

export class Spending implements StepLimit {
  readonly spent: Spent = { queries: 0, rowsRead: 0, rowsWritten: 0, steps: 0, ripples: 0, ms: 0 }
  readonly limits: Record<Budget, number>
  readonly #started = performance.now()
  /** What was counted before, and goes on afterwards: a test that saves. */
  readonly #outer: Pick<Meter, 'n' | 'm' | 'limit'>
  #closed = false

  /** @param where the hook at work and the ripple chain, for the error */
  constructor(
    project: Project,
    batches: number,
    private readonly meter: Meter,
    private readonly where: () => Partial<ErrorPlace> & { chain: string },
  ) {
    this.limits = { ...DEFAULT_BUDGETS }
    for (const budget of BUDGETS) {
      if (budget !== 'ripples') this.limits[budget] *= Math.max(1, batches)
      this.limits[budget] = project.budgets[budget] ?? this.limits[budget]
    }
    this.#outer = { n: meter.n, m: meter.m, limit: meter.limit }
    meter.n = 0
    meter.m = Math.min(LOOK, this.limits.steps)
    meter.limit = this
  }

  /** Called by hook code when the step count passes the mark. */
  passed(): void {
    pulse()
    if (this.meter.n > this.limits.steps) {
      this.spent.steps = this.meter.n
      // Hook code may catch the error: from here on every further step throws again.
      this.meter.m = 0
      throw this.error('steps', this.meter.n)
    }
    this.time()
    this.meter.m = Math.min(this.meter.n + LOOK, this.limits.steps)
  }

  use(budget: 'queries' | 'rowsRead' | 'rowsWritten', count: number): void {
    this.spent[budget] += count
    if (this.spent[budget] > this.limits[budget]) throw this.error(budget, this.spent[budget])
  }

  depth(depth: number): void {
    this.spent.ripples = Math.max(this.spent.ripples, depth)
    if (depth > this.limits.ripples) throw this.error('ripples', depth)
  }

  time(): void {
    pulse()
    if (watchedCells()[CELL.cancel] === 1) throw this.#cancelled()
    this.spent.ms = performance.now() - this.#started
    if (this.spent.ms > this.limits.ms) throw this.error('ms', Math.round(this.spent.ms))
  }

  /** The final account; milliseconds to a tenth. */
  close(): Spent {
    this.spent.ms = Math.round((performance.now() - this.#started) * 10) / 10
    if (this.#closed) return this.spent
    this.#closed = true
    this.spent.steps = this.meter.n
    Object.assign(this.meter, this.#outer)
    this.meter.n += this.spent.steps
    return this.spent
  }

  /** The budget of which the greatest part was spent, and that part: 1 is all of it. */
  nearest(): { budget: Budget; share: number } {
    const shares = BUDGETS.map((budget) => ({ budget, share: this.spent[budget] / this.limits[budget] }))
    return shares.reduce((most, each) => (each.share > most.share ? each : most))
  }

  /** The client disconnected. Hook code may catch it: from here on every further step throws again. */
  #cancelled(): HookError {
    this.meter.m = 0
    return (this.broken ??= new HookError('request/cancelled'))
  }

  error(budget: Budget, spent: number): HookError {
    const { chain, ...place } = this.where()
    const error = new HookError('budget/spent', {
      ...place,
      budget: WORDS[budget],
      limit: this.limits[budget],
      spent,
      chain,
      advice: ADVICE[budget],
    })
    this.broken ??= error
    return error
  }
  /** The budget that was passed, also when hook code swallowed the error. */
  broken: HookError | null = null
}
