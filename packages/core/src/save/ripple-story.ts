import type { SaveRow } from './row.js'

/** What is reported about ripples that went too deep: which hooks in sequence, and which records keep changing. */

/** Records that are named. */
const MOST = 3

/** One level of ripples: the hooks that asked for the next, and the rows that were written. */
export interface RippleLevel {
  by: string
  written: readonly (readonly SaveRow[])[]
}

/** @returns '' where there are no ripples yet */
export function rippleStory(levels: readonly RippleLevel[]): string {
  if (levels.length === 0) return ''
  return `; the ripples: ${chainText(levels.map(({ by }) => by))}${circleText(levels)}`
}

/** A chain that goes round is reported once: `a → b, 4 times`. */
function chainText(names: readonly string[]): string {
  for (let start = 0; start < names.length - 1; start++)
    for (let period = 1; start + 2 * period <= names.length; period++) {
      const round = names.slice(start)
      if (!round.every((name, i) => i < period || name === round[i - period])) continue
      const times = Math.floor(round.length / period)
      return [...names.slice(0, start), `${round.slice(0, period).join(' → ')} (${times} times)`].join(' → ')
    }
  return names.join(' → ')
}

function circleText(levels: readonly RippleLevel[]): string {
  const times = new Map<string, number>()
  for (const { written } of levels)
    for (const row of written.flat()) {
      if (!row.was || !row.now) continue
      for (const index of row.shape.differing(row.was, row.now)) {
        const key = `${row.shape.table.name} ${row.id}\n${row.shape.fields[index]!.name}`
        times.set(key, (times.get(key) ?? 0) + 1)
      }
    }
  const most = Math.max(0, ...times.values())
  if (most < 2) return ''
  const circling = [...times].filter(([, count]) => count > 1).map(([key]) => key.split('\n') as [string, string])
  const records = [...new Set(circling.map(([record]) => record))]
  const fields = [...new Set(circling.map(([, field]) => field))]
  const named = records.slice(0, MOST).join(', ') + (records.length > MOST ? ` and ${records.length - MOST} more` : '')
  return `; ${named} ${records.length === 1 ? 'keeps' : 'keep'} changing in ${fields.join(', ')}`
}
