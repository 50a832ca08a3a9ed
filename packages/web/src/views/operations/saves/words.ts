import type { SaveEntry, SaveFigures, Spent } from '@patient-hook/contract'
import { timeWord } from '../../../lib/times'

/** Saves in words. */

/** How the address names a save. */
export const keyOf = ({ id, state }: Pick<SaveEntry, 'id' | 'state'>): string =>
  state === 'kept' ? String(id) : `not-kept-${id}`

/** Also for a save that was kept but for some rows. */
export const STATES: Record<SaveEntry['state'], string> = { kept: 'saved', refused: 'refused', failed: 'failed' }

const BUDGET_WORDS: Record<string, string> = {
  queries: 'queries',
  rowsRead: 'rows read',
  rowsWritten: 'rows written',
  steps: 'steps',
  ripples: 'ripple depth',
  ms: 'time',
}
export const budgetWord = (budget: string): string => BUDGET_WORDS[budget] ?? budget

/** What was spent, nulls left out. */
export const spentWords = (spent: Spent): string =>
  Object.entries(spent)
    .filter(([budget, value]) => budget !== 'ms' && value > 0)
    .map(([budget, value]) => `${value} ${budgetWord(budget)}`)
    .join(', ')

/** From this part of a budget on a save is highlighted. */
export const NEAR = 0.8

export const msWord = (ms: number | null): string => (ms === null ? '' : ms < 10 ? `${ms.toFixed(1)} ms` : `${Math.round(ms)} ms`)

/** An hour as the axis of a chart shows it, in local time. */
export const hourWord = (hour: string): string => timeWord(hour).slice(11)

/** The beginnings of all hours up to this one. */
export function hoursUpTo(now: number, span: number): string[] {
  const beginning = (back: number) => `${new Date(now - back * 3_600_000).toISOString().slice(0, 13)}:00:00.000Z`
  return Array.from({ length: span }, (_, index) => beginning(span - 1 - index))
}

/** One line about a period, for those who do not see the chart. */
export function figuresWord({ hours }: SaveFigures): string {
  const saves = hours.reduce((sum, hour) => sum + hour.saves, 0)
  const notKept = hours.reduce((sum, hour) => sum + hour.notKept, 0)
  const slowest = Math.max(0, ...hours.map((hour) => hour.p95))
  return `${saves} saves committed, ${notKept} refused or failed. The slowest hour had a p95 of ${msWord(slowest)}.`
}
