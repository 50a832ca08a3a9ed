import type { InputRow } from '@patient-hook/contract'
import { batches, rowsOf } from './batch.js'
import { generator } from './generator.js'
import { forManyRows } from './many-rows.js'
import { HOLDS, type Effort, type Finding } from './property.js'
import type { Subject } from './subject.js'

/** Rows of a batch; what breaks a property mostly needs two or three. */
const MOST_ROWS = 6

/** Why it does not hold of these rows; null where it does. */
export type Check = (subject: Subject, rows: InputRow[]) => string | null

/**
 * Tries batches until one breaks the property, and makes that one smaller as long as it still does.
 * @param many also of as many rows as the code may tell apart, which takes far longer
 */
export function forBatches(subject: Subject, effort: Effort, check: Check, many = false): Finding {
  const fc = generator()
  const reasonFor = (rows: InputRow[]): string | null => {
    const reason = check(subject, rows)
    // What breaks without the hook as well is the doing of those that it needs.
    return reason !== null && subject.others && check(subject.others, rows) !== null ? null : reason
  }
  const result = fc.check(
    fc.property(batches(subject, MOST_ROWS), (batch) => reasonFor(rowsOf(subject, batch)) === null),
    { numRuns: effort.runs, seed: effort.seed, interruptAfterTimeLimit: effort.ms, markInterruptAsFailure: false },
  )
  if (!result.failed || !result.counterexample) return many ? forManyRows(subject, effort, reasonFor) : HOLDS
  const rows = rowsOf(subject, result.counterexample[0])
  return { reason: reasonFor(rows) ?? 'it breaks now and then', batch: rows }
}
