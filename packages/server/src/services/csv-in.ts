import type { CsvResult, SavedRecord, SaveOutcome } from '@patient-hook/contract'

/** What is told of a save of a file's rows: counts of all of them, the first with what becomes of them. */

const MOST_REFUSALS = 50
const MOST_RECORDS = 100

interface Told {
  rows: number
  outcome: Pick<SaveOutcome, 'save' | 'refusals' | 'sent' | 'error'>
  counts: Pick<CsvResult, 'created' | 'changed' | 'ripples'>
  records: readonly SavedRecord[]
}

export function csvResult({ rows, outcome: { save, refusals, sent, error }, counts, records }: Told): CsvResult {
  const refused = new Set(refusals.filter(({ row }) => row).map(({ row }) => row)).size
  const good = error ? 0 : rows - refused
  return {
    rows,
    save,
    ...counts,
    same: Math.max(0, good - counts.created - counts.changed),
    refused,
    refusals: refusals.slice(0, MOST_REFUSALS),
    error,
    messages: sent.length,
    records: records.filter(({ depth }) => depth === 0).slice(0, MOST_RECORDS),
  }
}
