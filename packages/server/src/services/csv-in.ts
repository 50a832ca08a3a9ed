import { report } from '@patient-hook/core'
import type { BackfillInfo, BackfillLeft, CsvResult, ErrorReport, SavedRecord, SaveOutcome } from '@patient-hook/contract'

/** What is reported about a save of a file's rows: counts of all of them, the first with what becomes of them. */

const MOST_REFUSALS = 50
const MOST_RECORDS = 100

interface Told {
  read: {
    /** How many were given to the save. */
    rows: number
    /** Of each of these, its number in the file; null where none was left out. */
    numbers: readonly number[] | null
    /** How many were left out since they cannot be read, with what is wrong with the first of them. */
    left: number
    unreadable: readonly ErrorReport[]
  }
  outcome: Pick<SaveOutcome, 'save' | 'refusals' | 'sent' | 'error'>
  counts: Pick<CsvResult, 'created' | 'changed' | 'ripples'>
  records: readonly SavedRecord[]
}

export function csvResult({ read, outcome: { save, refusals, sent, error }, counts, records }: Told): CsvResult {
  const { rows, numbers, left, unreadable } = read
  const refused = new Set(refusals.filter(({ row }) => row).map(({ row }) => row)).size
  const good = error ? 0 : rows - refused
  const inFile = (report: ErrorReport): ErrorReport =>
    numbers && report.row ? { ...report, row: numbers[report.row - 1]! } : report
  const told = [...unreadable, ...refusals.map(inFile)].sort((one, other) => (one.row ?? 0) - (other.row ?? 0))
  return {
    rows: rows + left,
    save,
    backfill: null,
    ...counts,
    same: Math.max(0, good - counts.created - counts.changed),
    refused: refused + left,
    refusals: told.slice(0, MOST_REFUSALS),
    error: error && inFile(error),
    messages: sent.length,
    records: records.filter(({ depth }) => depth === 0).slice(0, MOST_RECORDS),
  }
}

const sum = (counts: Readonly<Record<string, number>>): number => Object.values(counts).reduce((all, count) => all + count, 0)

/** The same of a file that was saved batch by batch, as far as it came. @param unread rows that cannot be read */
export function csvOfBackfill(
  { backfill, left }: { backfill: BackfillInfo; left: readonly BackfillLeft[] },
  unread: number,
): CsvResult {
  const { id, total, done, figures, failure } = backfill
  const refusals = left
    .slice(0, MOST_REFUSALS)
    .map(({ table, id: row, field, message }) => report('csv/row-left', { table, row, field, detail: message }))
  return {
    rows: total + unread,
    save: null,
    backfill: id,
    created: figures.created,
    changed: figures.changed - figures.created,
    same: Math.max(0, done - figures.changed - (figures.left - unread)),
    refused: figures.left,
    refusals,
    error: failure,
    ripples: sum(figures.effects),
    messages: sum(figures.messages),
    records: [],
  }
}
