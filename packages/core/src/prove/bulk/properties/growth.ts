import type { BulkPropertyName, Growth, GrowthPoint, InputRow } from '@patient-hook/contract'
import { batches, inputOf, type RowIdea } from '../batch.js'
import { loadCopies } from '../copies.js'
import { withoutTwins } from '../field-values.js'
import { generator } from '../generator.js'
import { HOLDS, type BulkProperty, type Effort } from '../property.js'
import type { Subject } from '../subject.js'
import { oneByOne, together, trial } from '../trial.js'

/** What batches of growing size cost: the same kinds of rows, more and more of them. */

const SIZES = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000]
/** From this size on every kind of row is there. */
export const ALL_KINDS = 10
const LARGEST = SIZES.at(-1)!

/** Rows that can be saved by themselves, each of another kind. */
function kindsOf(subject: Subject, { seed }: Effort): RowIdea[] {
  const fc = generator()
  const ideas = fc.sample(batches(subject, 1), { seed, numRuns: 60 }).flat()
  const good = ideas.filter((idea) => trial(subject, oneByOne([inputOf(subject, idea, 0)]), {}, (of) => of.errors.size === 0))
  const own = good.filter(({ table }) => table === subject.table.name)
  const some = own.length > 0 ? own : good
  // One that wakes the hook goes first, since a save of one row is measured too.
  const woken = some.filter((idea) => {
    const before = subject.tally.ran
    return trial(subject, oneByOne([inputOf(subject, idea, 0)]), {}, () => subject.tally.ran > before)
  })
  return (woken.length > 0 ? woken : some).slice(0, ALL_KINDS)
}

function measureGrowth(subject: Subject, effort: Effort): { growth: Growth; batch: (rows: number) => InputRow[] } | null {
  const kinds = kindsOf(subject, effort)
  if (kinds.length === 0) return null
  const kindAt = (at: number) => kinds[at % kinds.length]!
  const batch = (count: number, clones?: ReadonlyMap<string, readonly number[]>): InputRow[] => {
    const rows = Array.from({ length: count }, (_, at) => {
      const idea = kindAt(at)
      if (!clones || idea.event === 'create' || idea.event === 'copy') return inputOf(subject, idea, at)
      // A table that takes no more records that differ as it asks has fewer of them in the batch.
      const id = clones.get(idea.table)?.[at]
      return id === undefined ? null : inputOf(subject, { ...idea, id }, at)
    })
    return withoutTwins(
      subject.environment.project.tables,
      rows.filter((row) => row !== null),
    )
  }
  const points: GrowthPoint[] = []
  let limit: string | null = null
  for (const size of SIZES) {
    const { rows, error, spent } = subject.environment.store.transaction(() => {
      const all = batch(size, cloned(subject, kinds, size))
      const outcome = trial(subject, together(all), { batchSize: LARGEST }, (of) => of.outcomes[0]!)
      return { value: { rows: all.length, error: outcome.error, spent: outcome.spent }, keep: false }
    })
    // A table may not take so many that differ as it asks.
    if (rows <= (points.at(-1)?.rows ?? 0)) break
    if (error?.code.startsWith('budget/')) {
      limit = `${rows} rows: ${error.message}`
      break
    }
    const count = (what: 'queries' | 'rowsRead' | 'steps') => spent[what] ?? 0
    points.push({
      rows,
      queries: count('queries'),
      rowsRead: count('rowsRead'),
      steps: count('steps'),
      ms: spent['ms'] ?? 0,
    })
  }
  return {
    growth: { points, exponents: { steps: slope(points, 'steps'), rowsRead: slope(points, 'rowsRead') }, limit },
    // Of records that there are, each once.
    batch: (rows) => batch(Math.min(rows, kinds.length)),
  }
}

/** A property of what growing batches cost. @param reasonOf why it does not hold; null where it does */
export const growthProperty = (name: BulkPropertyName, reasonOf: (growth: Growth) => string | null): BulkProperty => ({
  name,
  prove(subject, effort) {
    const measured = measureGrowth(subject, effort)
    if (!measured) return HOLDS
    const { growth, batch } = measured
    const reason = reasonOf(growth)
    if (reason === null || isOfOthers(subject, effort, reasonOf)) return { ...HOLDS, growth }
    return { reason, batch: batch(2), growth }
  },
})

/** Does it grow so without the hook as well? Then it is the doing of those that it needs. */
function isOfOthers(subject: Subject, effort: Effort, reasonOf: (growth: Growth) => string | null): boolean {
  const measured = subject.others ? measureGrowth(subject.others, effort) : null
  return measured !== null && reasonOf(measured.growth) !== null
}

/** Records to be changed or removed, as many as the batch has rows: copies of the ones that are there, by table. */
function cloned(subject: Subject, kinds: readonly RowIdea[], count: number): Map<string, number[]> {
  const changed = kinds.filter(({ event }) => event === 'update' || event === 'delete').map(({ table }) => table)
  return loadCopies(subject, new Map(changed.map((table) => [table, count])))
}

/**
 * The slope of the straight line through the larger points, with logarithms on both axes, by least squares.
 * Constant costs would hide growth in the smaller ones.
 */
function slope(points: readonly GrowthPoint[], what: 'steps' | 'rowsRead'): number {
  const larger = points.filter(({ rows }) => rows >= 50)
  const of = larger.length >= 2 ? larger : points.slice(-2)
  if (of.length < 2) return 0
  const xs = of.map(({ rows }) => Math.log(rows))
  const ys = of.map((point) => Math.log(point[what] + 1))
  const [meanX, meanY] = [xs, ys].map((list) => list.reduce((sum, each) => sum + each, 0) / list.length) as [number, number]
  const above = xs.reduce((sum, x, at) => sum + (x - meanX) * (ys[at]! - meanY), 0)
  const below = xs.reduce((sum, x) => sum + (x - meanX) ** 2, 0)
  return Math.round((above / below) * 1000) / 1000
}
