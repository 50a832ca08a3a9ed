import type { BackfillFigures, BackfillLeft, BackfillSample, BackfillWish, InputRow } from '@patient-hook/contract'
import { HookError, type ErrorReport } from '../errors.js'
import { quote } from '../model/ddl.js'
import type { Table, Value } from '../model/types.js'
import type { Backfilling, Series } from '../save/backfilling.js'
import type { SaveEnvironment } from '../save/environment.js'
import { trySave, type SaveOutcome } from '../save/save.js'
import { saveAsSet, type RecordSet } from '../save/save-as-set.js'
import type { Store } from '../store/database.js'
import { whereSql } from '../store/where.js'
import { Tally } from './figures.js'
import { Numbering } from './numbering.js'

/** One batch of a backfill: a partial save of records that are there, the same in its plan and when it runs. */

export interface Batch {
  left: BackfillLeft[]
  samples: BackfillSample[]
  outcome: SaveOutcome | null
  /** Nothing but its own records was written, and its own tables. */
  alone: boolean
}

export interface BatchOptions {
  user: string
  /** The backfill's number; null in a plan. */
  job: number | null
  /** So many records that change are reported individually. */
  samples?: number
  /** No rows were written since the records were selected, except by other batches. */
  untouched?: boolean
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
  { user, job, samples = 0, untouched = false }: BatchOptions,
): Batch {
  const { store, program } = environment
  const fitting = untouched ? ids : stillFitting(store, table, wish, ids)
  figures.passed += ids.length - fitting.length
  if (fitting.length === 0) return { left: [], samples: [], outcome: null, alone: true }
  const numbering = wish.number ? new Numbering(store, wish.number, table.name) : null
  const tally = new Tally(samples, numbering)
  const backfill: Backfilling = {
    job,
    wake: new Set(wish.hooks),
    holdEffects: !wish.withEffects,
    holdMessages: !wish.withMessages,
    begin: () => tally.begin(),
    number: (row, series) => numbering?.number(row, series),
    wrote: (...told) => tally.wrote(...told),
    wroteSet: (...told) => tally.wroteSet(...told),
    held: (sink) => tally.held(sink),
  }
  const within = { ...environment, backfill }
  // With an id, in whose place that of each record comes.
  const values = { ...wish.set, id: 0 }
  const asSet = tally.tellsOfEach ? null : saveAsSet(within, setIn(table, wish, numbering), fitting, { user })
  const outcome =
    asSet ??
    trySave(
      within,
      fitting.map((id): InputRow => ({ table: table.name, values: { ...values, id } })),
      { user, partial: true },
    )
  if (outcome.error) throw new HookError(outcome.error)
  const left = outcome.refusals.map((refusal) => leftOf(refusal, table.name, fitting))
  figures.left += new Set(left.map(({ id }) => id)).size
  if (outcome.kept) tally.addTo(figures, outcome, backfill.holdMessages)
  return { left, samples: outcome.kept ? tally.told(program) : [], outcome, alone: asSet !== null }
}

/** What each record is to take; of hooks that are woken for it nothing is known before. */
function setIn(table: Table, { set, number }: BackfillWish, numbering: Numbering | null): RecordSet | null {
  if (set) {
    const fields = table.fields.filter(({ name }) => name in set)
    const values = fields.map(({ name }) => set[name]!)
    return { table, fields, by: null, differ: false, allChange: false, take: () => values, isSure: () => true }
  }
  if (!number || !numbering) return null
  const fields = table.fields.filter(({ name }) => name === number.field)
  const take = (kind: Value, series: Series): Value[] => [numbering.take(kind, series)]
  // Numbers of one series differ, and the numbering passes by those that any record has.
  return {
    table,
    fields,
    by: numbering.by,
    differ: numbering.by === null,
    allChange: true,
    take,
    isSure: () => !numbering.passedBy,
  }
}

/** Records that somebody changed since the backfill chose them are theirs. */
function stillFitting(store: Store, table: Table, { where }: BackfillWish, ids: readonly number[]): number[] {
  const { sql, parameters } = whereSql(table, where)
  const among = `"id" IN (SELECT value FROM json_each(?))`
  const [list] = store.values(
    `SELECT json_group_array("id") FROM ${quote(table.name)}${sql ? `${sql} AND ${among}` : ` WHERE ${among}`}`,
    ...parameters,
    JSON.stringify(ids),
  ) as [string]
  const fitting = new Set(JSON.parse(list) as number[])
  return ids.filter((id) => fitting.has(id))
}

export const leftOf = ({ field, message, row, hook }: ErrorReport, table: string, ids: readonly number[]): BackfillLeft => ({
  table,
  id: ids[(row ?? 1) - 1]!,
  field: field ?? null,
  message: hook ? `${hook}: ${message}` : message,
})
