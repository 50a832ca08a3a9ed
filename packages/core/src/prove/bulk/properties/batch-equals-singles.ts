import type { InputRow } from '@patient-hook/contract'
import { canonical, differenceOf } from '../canonical.js'
import { forBatches } from '../for-batches.js'
import type { BulkProperty } from '../property.js'
import type { Subject } from '../subject.js'
import { accepted, trial } from '../trial.js'
import { failureWord } from '../words.js'

export const batchEqualsSingles: BulkProperty = {
  name: 'batch-equals-singles',
  prove: (subject, effort) => forBatches(subject, effort, compareWithSingles, true),
}

export function compareWithSingles(subject: Subject, rows: readonly InputRow[]): string | null {
  const { good, singles } = accepted(subject, rows, (places, of) => ({ good: places, singles: canonical(subject, of) }))
  if (good.length < 2) return null
  return trial(subject, [{ rows: good.map((place) => rows[place]!), places: good }], {}, (batch) => {
    const [outcome] = batch.outcomes
    if (outcome!.error) return `the batch is not kept (${failureWord(outcome!.error)}), and its rows are, one at a time`
    return differenceOf(canonical(subject, batch), singles, ['in the batch', 'one at a time'])
  })
}
