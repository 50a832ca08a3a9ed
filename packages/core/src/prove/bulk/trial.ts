import type { InputRow, RecordValues, RowOut } from '@patient-hook/contract'
import type { ErrorReport } from '../../errors.js'
import { trySave, type SaveOutcome } from '../../save/save.js'
import { readByIds } from '../../store/records.js'
import { shapeOf } from '../../store/shape.js'
import type { Subject } from './subject.js'

/** Saves on the subject's records, rolled back, and what they left behind. */

/** One save of a trial: rows, each with its place in the batch that is looked at. */
export interface Saving {
  rows: readonly InputRow[]
  places: readonly number[]
}

export interface Trial {
  outcomes: SaveOutcome[]
  /** Of the saves that failed, by place of their first row. */
  errors: Map<number, ErrorReport>
  /** Every record that was touched: before, and in the end; null where there is none. */
  records: { table: string; id: number; was: RecordValues | null; now: RecordValues | null }[]
  /** Records that were typed, by place. */
  typed: Map<number, { table: string; id: number }>
  /** Ids of records that are new. */
  fresh: Map<string, Set<number>>
  /** Numbers that sequences gave. */
  numbers: Set<string>
  sent: SaveOutcome['sent']
}

const CLOCK = '2026-01-05T09:00:00.000Z'

export interface TrialOptions {
  partial?: boolean
  batchSize?: number
}

export const together = (rows: readonly InputRow[]): Saving[] => [{ rows, places: rows.map((_, place) => place) }]
export const oneByOne = (rows: readonly InputRow[]): Saving[] => rows.map((row, place) => ({ rows: [row], places: [place] }))

/** @param then is asked while what was saved still stands; more may be saved in it */
export function trial<T>(
  subject: Subject,
  savings: readonly Saving[],
  options: TrialOptions,
  then: (trial: Trial, save: (rows: readonly InputRow[]) => SaveOutcome) => T,
): T {
  const { environment, live, tally, hook } = subject
  const { store } = environment
  const project = options.batchSize ? { ...environment.project, batchSize: options.batchSize } : environment.project
  const save = (rows: readonly InputRow[]): SaveOutcome => {
    const outcome = trySave({ ...environment, project, history: false }, rows, {
      clock: CLOCK,
      record: true,
      hooks: live,
      ...(options.partial ? { partial: true } : {}),
    })
    tally.rows += rows.length
    if (outcome.error) tally.failure = outcome.error
    else tally.kept += rows.length - new Set(outcome.refusals.map(({ row }) => row)).size
    tally.ran += hook ? (outcome.ran[hook.name] ?? 0) : Object.keys(outcome.ran).length
    return outcome
  }
  return store.transaction(() => {
    const result: Trial = {
      outcomes: [],
      errors: new Map(),
      records: [],
      typed: new Map(),
      fresh: new Map(),
      numbers: new Set(),
      sent: [],
    }
    const first = new Map<string, { table: string; id: number; was: RecordValues | null }>()
    for (const { rows, places } of savings) {
      const outcome = save(rows)
      result.outcomes.push(outcome)
      if (outcome.error) result.errors.set(places[0]!, outcome.error)
      else note(result, first, outcome, places)
    }
    result.records = finalOf(subject, first)
    return { value: then(result, save), keep: false }
  })
}

function note(
  result: Trial,
  first: Map<string, { table: string; id: number; was: RecordValues | null }>,
  outcome: SaveOutcome,
  places: readonly number[],
): void {
  const refused = new Set(outcome.refusals.map(({ row }) => row))
  for (const row of outcome.rows) {
    if (row.depth === 0 && refused.has(row.row)) continue
    const { table, id, event, was } = row
    const key = `${table} ${id}`
    if (!first.has(key)) first.set(key, { table, id, was })
    if (event === 'create') result.fresh.set(table, (result.fresh.get(table) ?? new Set()).add(id))
    if (row.depth === 0 && event !== 'delete') result.typed.set(places[row.row - 1]!, { table, id })
    for (const number of numbersOf(row)) result.numbers.add(number)
  }
  result.sent.push(...outcome.sent)
}

const numbersOf = ({ changes }: RowOut): string[] =>
  changes.flatMap(({ kind, to }) => (kind === 'sequence' && typeof to === 'string' ? [to] : []))

function finalOf(subject: Subject, first: ReadonlyMap<string, { table: string; id: number; was: RecordValues | null }>) {
  const { project, store } = subject.environment
  const byTable = new Map<string, number[]>()
  for (const { table, id } of first.values()) byTable.set(table, [...(byTable.get(table) ?? []), id])
  const now = new Map<string, RecordValues>()
  for (const [table, ids] of byTable) {
    const shape = shapeOf(project.tables.get(table)!)
    for (const [id, record] of readByIds(store, shape, ids)) now.set(`${table} ${id}`, shape.plain(record))
  }
  return [...first.values()].map((each) => ({ ...each, now: now.get(`${each.table} ${each.id}`) ?? null }))
}

/**
 * Rows that can be saved in sequence, and what they leave behind so. Others are left out: what is refused alone says
 * no more about batches.
 */
export function accepted<T>(subject: Subject, rows: readonly InputRow[], then: (good: number[], singles: Trial) => T): T {
  return trial(subject, oneByOne(rows), {}, (singles) =>
    then(
      rows.map((_, place) => place).filter((place) => !singles.errors.has(place)),
      singles,
    ),
  )
}
