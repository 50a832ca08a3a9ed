import type { BackfillFigures, BackfillLeft, InputRow } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import type { Value, Values } from '../model/types.js'
import type { Backfilling } from '../save/backfilling.js'
import type { SaveEnvironment } from '../save/environment.js'
import { changesOf, type RawEntry } from '../save/history.js'
import { trySave } from '../save/save.js'
import type { Store } from '../store/database.js'
import { leftOf } from './batch.js'
import { Tally } from './figures.js'

/**
 * Takes back what a backfill did to records, from their history: each field that nobody changed since is again what it was before. No
 * hook runs for it, since the values that hooks had set go back too.
 */

export interface Touched {
  table: string
  id: number
}

interface Undone {
  /** Fields that go back, and what to. */
  values: Values
  /** Fields that somebody changed since. */
  since: string[]
  made: boolean
  /** The record was removed: what it was. */
  removed: Values | null
  /** Why the record as a whole stays as it is. */
  stays: string | null
}

/** @param records in an order in which what was done last comes first */
export function undoBatch(
  environment: SaveEnvironment,
  records: readonly Touched[],
  figures: BackfillFigures,
  { user, job, undoes }: { user: string; job: number; undoes: number },
): { left: BackfillLeft[]; outcome: null } {
  const { store, project } = environment
  const left: BackfillLeft[] = []
  const rows: InputRow[] = []
  const again: InputRow[] = []
  for (const { table, id } of records) {
    const undone = whatToUndo(store, table, id, undoes)
    const { made, removed, values, since } = undone
    let { stays } = undone
    if (!project.tables.has(table)) stays ??= 'its table is gone'
    else if (made && since.length > 0) stays ??= `it was made by the backfill, but ${since.join(', ')} changed since, so it stays`
    if (stays !== null) {
      left.push({ table, id, field: null, message: stays })
      continue
    }
    for (const field of since) left.push({ table, id, field, message: 'changed since; it stays as it is now' })
    if (made) rows.push({ table, values: { id }, remove: true })
    else if (removed) again.push({ table, values: { ...removed, id } })
    else if (Object.keys(values).length > 0) rows.push({ table, values: { ...values, id } })
  }
  // What was removed comes first: others may link to it again.
  for (const [inputs, keepIds] of [[again.reverse(), true] as const, [rows, false] as const]) {
    if (inputs.length === 0) continue
    const tally = new Tally(0, null)
    const outcome = trySave({ ...environment, backfill: quiet(job, tally) }, inputs, { user, partial: true, hooks: [], keepIds })
    if (outcome.error) throw new HookError(outcome.error)
    for (const refusal of outcome.refusals) {
      const { table, values } = inputs[(refusal.row ?? 1) - 1]!
      left.push({ ...leftOf(refusal, table, []), id: values!['id'] as number })
    }
    if (outcome.kept) tally.addTo(figures, outcome, true)
  }
  figures.left += new Set(left.map(({ table, id }) => `${table} ${id}`)).size
  return { left, outcome: null }
}

const quiet = (job: number, tally: Tally): Backfilling => ({
  job,
  wake: new Set(),
  // Links that a removed record clears are part of taking it back.
  holdEffects: false,
  holdMessages: true,
  begin: () => tally.begin(),
  number: () => {},
  wrote: (...told) => tally.wrote(...told),
  wroteSet: (...told) => tally.wroteSet(...told),
  held: () => {},
})

const ENTRIES = `SELECT h.event, h.cause, h.patch, s.job FROM ph_history h JOIN ph_save s ON s.id = h.save
  WHERE h.record = ? AND h.tbl = ? AND h.save >= (SELECT min(id) FROM ph_save WHERE job = ?) ORDER BY h.id`

/** What the backfill did to one record, all its saves taken together, and what others did to it since. */
function whatToUndo(store: Store, table: string, id: number, undoes: number): Undone {
  const undone: Undone = { values: {}, since: [], made: false, removed: null, stays: null }
  const since = new Set<string>()
  const from = new Map<string, Value>()
  let touched = false
  for (const entry of store.objects(ENTRIES, id, table, undoes) as unknown as (RawEntry & { job: number | null })[]) {
    const changes = changesOf(entry)
    if (entry.job === undoes) {
      touched = true
      if (entry.event === 'create') undone.made = true
      if (entry.event === 'delete') {
        // As it was before the backfill came to it, where it had changed it first.
        const was = Object.fromEntries(changes.map((change) => [change.field, change.from as Value]))
        if (undone.made) undone.stays = 'it was made and removed by the backfill'
        undone.removed = { ...was, ...Object.fromEntries(from) }
      } else
        for (const change of changes)
          if (!from.has(change.field) && !since.has(change.field)) from.set(change.field, change.from as Value)
    } else if (touched) {
      if (entry.event === 'model') undone.stays = 'the fields of its table were changed since; it stays as it is now'
      if (entry.event === 'delete') undone.stays = 'it was removed since'
      if (entry.event === 'create' && undone.removed) undone.stays = 'it is there again'
      for (const change of changes) since.add(change.field)
    }
  }
  undone.values = Object.fromEntries([...from].filter(([field]) => !since.has(field)))
  undone.since = undone.made ? [...since] : [...since].filter((field) => from.has(field))
  return undone
}
