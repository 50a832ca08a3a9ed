import type { CsvResult, SaveOutcome, SaveStory } from '@patient-hook/contract'

/** What is told of a save of a file's rows: counts of all of them, the first with what becomes of them. */

const MOST_REFUSALS = 50
const MOST_RECORDS = 100

type Told = Pick<CsvResult, 'created' | 'changed' | 'ripples' | 'records'>

/** Of a rehearsal, which tells of each row what becomes of it. */
export function rehearsedRows({ rows }: SaveOutcome): Told {
  const own = rows.filter(({ depth }) => depth === 0)
  return {
    created: own.filter(({ event }) => event === 'create').length,
    changed: own.filter(({ event, changes }) => event === 'update' && changes.length > 0).length,
    ripples: rows.filter(({ depth, changes }) => depth > 0 && changes.length > 0).length,
    records: own
      .filter(({ changes }) => changes.length > 0)
      .slice(0, MOST_RECORDS)
      .map(({ table, id, event, depth, changes }) => ({ table, id, event, depth, changes })),
  }
}

/** Of a save that was kept, by its history. */
export const keptRows = (counts: Omit<Told, 'records'>, { records }: SaveStory): Told => ({
  ...counts,
  records: records.filter(({ depth }) => depth === 0).slice(0, MOST_RECORDS),
})

export function csvResult(rows: number, { save, refusals, records, sent, error }: SaveOutcome, told: Told): CsvResult {
  const refusedRows = new Set(refusals.filter(({ row }) => row).map(({ row }) => row))
  const good = error ? 0 : records.filter((record) => record !== null).length
  return {
    rows,
    save,
    ...told,
    same: Math.max(0, good - told.created - told.changed),
    refused: refusedRows.size,
    refusals: refusals.slice(0, MOST_REFUSALS),
    error,
    messages: sent.length,
  }
}
