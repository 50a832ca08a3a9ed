import type { Growth } from '@patient-hook/contract'
import { HOLDS, type BulkProperty } from '../property.js'
import { isOfOthers, measureGrowth } from './growth.js'

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
    const reason = reasonOf(growth)
    if (reason === null || isOfOthers(subject, effort, reasonOf)) return { ...HOLDS, growth }
    return { reason, batch: batch(2), growth }
  },
}

function reasonOf({ points, exponents, limit }: Growth): string | null {
  const largest = points.at(-1)?.rows ?? 0
  if (limit !== null && largest < ENOUGH) return `no more than ${largest} rows fit into the budget: ${limit}`
  const { steps, rowsRead } = exponents
  const [word, exponent] = steps >= rowsRead ? ['steps', steps] : ['rows read', rowsRead]
  return exponent <= MOST ? null : `${word} grow with the rows to the power of ${exponent}`
}
