import type { BackfillFigures, BackfillLeft, BackfillSample, BackfillWish, InputRow } from '@patient-hook/contract'
import { HookError, type ErrorReport } from '../errors.js'
import { quote } from '../model/ddl.js'
import type { Table } from '../model/types.js'
import type { Backfilling } from '../save/backfilling.js'
import type { SaveEnvironment } from '../save/environment.js'
import { trySave, type SaveOutcome } from '../save/save.js'
import type { Store } from '../store/database.js'
import { whereSql } from '../store/where.js'
import { Tally } from './figures.js'
import { Numbering } from './numbering.js'

/** One batch of a backfill: a partial save of records that are there, the same in its plan and when it runs. */

export interface Batch {
  left: BackfillLeft[]
  samples: BackfillSample[]
  outcome: SaveOutcome | null
}

export interface BatchOptions {
  user: string
  /** The backfill's number; null in a plan. */
  job: number | null
  /** So many records that change are told one by one. */
  samples?: number
}

/**
 * @param ids of the records, in their order; those that do not fit the conditions any more are passed by
 * @param figures is added to
 * @throws HookError of a batch as a whole, such as a spent budget
 */
export function saveBatch(
  environment: SaveEnvironment,
  table: Table,
  wish: BackfillWish,
  ids: readonly number[],
  figures: BackfillFigures,
  { user, job, samples = 0 }: BatchOptions,
): Batch {
  const { store, program } = environment
  const fitting = stillFitting(store, table, wish, ids)
  figures.passed += ids.length - fitting.length
  if (fitting.length === 0) return { left: [], samples: [], outcome: null }
  const numbering = wish.number ? new Numbering(store, wish.number, table.name) : null
  const tally = new Tally(samples, numbering)
  const backfill: Backfilling = {
    job,
    wake: new Set(wish.hooks),
    holdEffects: !wish.withEffects,
    holdMessages: !wish.withMessages,
    begin: () => tally.begin(),
    number: (row, next, ahead) => numbering?.number(row, next, ahead),
    wrote: (...told) => tally.wrote(...told),
    held: (sink) => tally.held(sink),
  }
  const rows = fitting.map((id): InputRow => ({ table: table.name, values: { ...wish.set, id } }))
  const outcome = trySave({ ...environment, backfill }, rows, { user, partial: true })
  if (outcome.error) throw new HookError(outcome.error)
  const left = outcome.refusals.map((refusal) => leftOf(refusal, table.name, fitting))
  figures.left += new Set(left.map(({ id }) => id)).size
  if (outcome.kept) tally.addTo(figures, outcome, backfill.holdMessages)
  return { left, samples: outcome.kept ? tally.told(program) : [], outcome }
}

/** Records that somebody changed since the backfill chose them are theirs. */
function stillFitting(store: Store, table: Table, { where }: BackfillWish, ids: readonly number[]): number[] {
  const { sql, parameters } = whereSql(table, where)
  const among = `"id" IN (SELECT value FROM json_each(?))`
  const fitting = new Set(
    store.values(
      `SELECT "id" FROM ${quote(table.name)}${sql ? `${sql} AND ${among}` : ` WHERE ${among}`}`,
      ...parameters,
      JSON.stringify(ids),
    ) as number[],
  )
  return ids.filter((id) => fitting.has(id))
}

export const leftOf = ({ field, message, row, hook }: ErrorReport, table: string, ids: readonly number[]): BackfillLeft => ({
  table,
  id: ids[(row ?? 1) - 1]!,
  field: field ?? null,
  message: hook ? `${hook}: ${message}` : message,
})
