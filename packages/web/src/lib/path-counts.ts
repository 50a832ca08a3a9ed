import type { ErrorReport, HookInfo, RowOut, SaveOutcome, Verdict, VerdictGroup } from '@patient-hook/contract'

/** The stations of one save in order, with what happened at each: what the ribbon shows. */

export const STATIONS = ['typed', 'before-save', 'checks', 'write', 'after-save', 'ripples', 'before-commit', 'commit'] as const
export type Station = (typeof STATIONS)[number]

export interface StationCount {
  station: Station
  ran: number
  skipped: number
  refused: number
  /** What is counted where no hooks run, such as rows. */
  words: string
}

export interface PathFacts {
  rows: readonly RowOut[]
  ripples: readonly RowOut[]
  verdicts: readonly (Verdict | VerdictGroup)[]
  refusals: readonly ErrorReport[]
  failed: boolean
  kept: boolean
}

/** The station at which a row was refused. */
export function refusedAt(refusal: ErrorReport, hooks: readonly HookInfo[]): Station {
  if (refusal.code.startsWith('save/')) return 'typed'
  if (refusal.code.startsWith('check/')) return refusal.code === 'check/linked' ? 'before-commit' : 'checks'
  return hooks.find((hook) => hook.name === refusal.hook)?.moment ?? 'before-save'
}

const rowsWord = (count: number) => (count === 1 ? '1 row' : `${count} rows`)

export function countPath(facts: PathFacts, hooks: readonly HookInfo[]): StationCount[] {
  const moments = new Map(hooks.map((hook) => [hook.name, hook.moment]))
  const refusedRows = new Set(facts.refusals.map((each) => `${each.table} ${each.row ?? each.id}`))
  const written = facts.rows.filter(
    (row) => (row.changes.length > 0 || row.event !== 'update') && !refusedRows.has(`${row.table} ${row.row}`),
  )
  return STATIONS.map((station) => {
    const verdicts = facts.verdicts.filter((verdict) => moments.get(verdict.hook) === station)
    const count = (verdict: Verdict['verdict']) =>
      verdicts.reduce((sum, each) => sum + (each.verdict === verdict ? ('ids' in each ? each.ids.length : 1) : 0), 0)
    const words: Partial<Record<Station, string>> = {
      typed: rowsWord(facts.rows.length),
      checks: rowsWord(facts.rows.length),
      write: rowsWord(written.length),
      ripples: rowsWord(facts.ripples.length),
      commit: facts.failed ? 'failed' : facts.kept ? 'kept' : 'rolled back',
    }
    return {
      station,
      ran: count('ran'),
      skipped: count('skipped'),
      refused: facts.refusals.filter((each) => refusedAt(each, hooks) === station).length,
      words: words[station] ?? '',
    }
  })
}

/** Of a save that was kept or rehearsed. @param outcome null: no changes were saved yet */
export function countSave(
  outcome: Pick<SaveOutcome, 'rows' | 'verdicts' | 'refusals' | 'error' | 'kept'> | null,
  hooks: readonly HookInfo[],
): StationCount[] {
  const { rows = [], verdicts = [], refusals = [], error = null, kept = false } = outcome ?? {}
  const counts = countPath(
    {
      rows: rows.filter((row) => row.depth === 0),
      ripples: rows.filter((row) => row.depth > 0),
      verdicts,
      refusals,
      failed: error !== null,
      kept,
    },
    hooks,
  )
  if (outcome) return counts
  return counts.map((count) => ({
    ...count,
    words: count.station === 'typed' ? 'nothing yet' : count.words === '0 rows' || count.station === 'commit' ? '–' : count.words,
  }))
}
