import { report, type ErrorReport } from '../errors.js'
import type { Pass, SaveOutcome } from './pass.js'
import type { RowOut, Verdict } from './types.js'
import type { Units } from './units.js'

/**
 * A partial save keeps exactly the good rows: those that would be saved if the refused ones had never been given. It goes
 * through the save, each time without what was refused, until nothing is refused any more. What is refused late (at
 * before-commit, say) may have been the cause of earlier refusals; units that were refused beside it get another try.
 */

/** What became of a unit that was refused. */
interface Fate {
  refusals: ErrorReport[]
  rows: RowOut[]
  verdicts: Verdict[]
  pass: number
}

/** More tries than this no unit gets: hooks may contradict each other without end. */
const MOST_TRIES = 8

export function savePartially(units: Units, runPass: (dropped: ReadonlySet<number>) => Pass): SaveOutcome {
  const fates = new Map<number, Fate>()
  const tries = new Map<number, number>()
  /** Of each pass the units that did not come through it: left out before, or refused in it. */
  const missing: ReadonlySet<number>[] = []
  for (;;) {
    const { outcome, refusedUnits, broken } = runPass(new Set(fates.keys()))
    const refused = [...refusedUnits].filter((unit) => !fates.has(unit))
    if (broken || refused.length === 0) return together(outcome, fates)
    const pass = missing.push(new Set([...fates.keys(), ...refused])) - 1
    for (const [unit, fate] of fates) {
      const tried = tries.get(unit) ?? 1
      // One that came through that pass is refused only now: it may have been in the way.
      if (tried === MOST_TRIES || refused.every((other) => missing[fate.pass]!.has(other))) continue
      tries.set(unit, tried + 1)
      fates.delete(unit)
    }
    const told = toldOf(units, outcome)
    for (const unit of refused) fates.set(unit, fateOf(units, unit, outcome, told, pass))
    // Where none is left, there is no save.
    if (fates.size === units.count) {
      const records = Array<null>(units.rows).fill(null)
      return together({ ...outcome, error: null, records, refusals: [], rows: [], verdicts: [] }, fates)
    }
  }
}

/** What a pass told of typed rows, by unit. */
interface Told {
  rows: ReadonlyMap<number, RowOut[]>
  verdicts: ReadonlyMap<number, Verdict[]>
}

function toldOf(units: Units, { rows, verdicts }: SaveOutcome): Told {
  const typed = rows.filter((row) => row.depth === 0 && row.row > 0)
  const unitsOf = new Map<string, Map<number, number>>()
  for (const { table, id, row } of typed) {
    const ids = unitsOf.get(table) ?? new Map<number, number>()
    unitsOf.set(table, ids.set(id, units.unitOf(row)))
  }
  return {
    rows: grouped(typed, ({ row }) => units.unitOf(row)),
    verdicts: grouped(verdicts, ({ table, id, depth }) => (depth === 0 ? unitsOf.get(table)?.get(id) : undefined)),
  }
}

function grouped<T>(all: readonly T[], unitOf: (one: T) => number | undefined): Map<number, T[]> {
  const groups = new Map<number, T[]>()
  for (const one of all) {
    const unit = unitOf(one)
    if (unit === undefined) continue
    const group = groups.get(unit)
    if (group) group.push(one)
    else groups.set(unit, [one])
  }
  return groups
}

function fateOf(units: Units, unit: number, { refusals }: SaveOutcome, told: Told, pass: number): Fate {
  const numbers = new Set(units.rowsOf(unit))
  const named = refusals.filter((refusal) => numbers.has(refusal.row ?? 0))
  // A document goes as a whole: rows of it without a problem are shown why they are not kept.
  const other = named[0]?.row
  const along = units.rowsOf(unit).filter((row) => !named.some((refusal) => refusal.row === row))
  return {
    refusals: [...named, ...along.map((row) => report('save/document-refused', { table: units.tableOf(row), row, other }))],
    rows: told.rows.get(unit) ?? [],
    verdicts: told.verdicts.get(unit) ?? [],
    pass,
  }
}

/** What the last pass told, with what was reported about the units that were refused on the way. */
function together(outcome: SaveOutcome, fates: ReadonlyMap<number, Fate>): SaveOutcome {
  if (fates.size === 0) return outcome
  const refused = [...fates.values()]
  return {
    ...outcome,
    refusals: [...refused.flatMap((fate) => fate.refusals), ...outcome.refusals].sort((a, b) => (a.row ?? 0) - (b.row ?? 0)),
    rows: [...refused.flatMap((fate) => fate.rows), ...outcome.rows].sort((a, b) => a.depth - b.depth || a.row - b.row),
    verdicts: [...refused.flatMap((fate) => fate.verdicts), ...outcome.verdicts],
  }
}
