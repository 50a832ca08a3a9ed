import { HOLDS, type BulkProperty } from '../property.js'
import { measureGrowth } from './growth.js'

/** More than in proportion, beyond what rounding and constant parts explain. */
const MOST = 1.15
/** Fewer rows than this show no growth. */
const ENOUGH = 100

export const linearGrowth: BulkProperty = {
  name: 'linear-growth',
  says: 'steps and rows read grow no faster than the rows',
  prove(subject, effort) {
    const measured = measureGrowth(subject, effort)
    if (!measured) return HOLDS
    const { growth, batch } = measured
    const { steps, rowsRead } = growth.exponents
    const largest = growth.points.at(-1)?.rows ?? 0
    if (growth.limit !== null && largest < ENOUGH)
      return { reason: `no more than ${largest} rows fit into the budget: ${growth.limit}`, batch: batch(2), growth }
    const [word, exponent] = steps >= rowsRead ? ['steps', steps] : ['rows read', rowsRead]
    if (exponent <= MOST) return { ...HOLDS, growth }
    return { reason: `${word} grow with the rows to the power of ${exponent}`, batch: batch(2), growth }
  },
}
