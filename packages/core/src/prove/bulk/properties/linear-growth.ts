import type { Growth } from '@patient-hook/contract'
import { growthProperty } from './growth.js'

/** More than in proportion, beyond what rounding and constant parts explain. */
const MOST = 1.15
/** Fewer rows than this show no growth. */
const ENOUGH = 100

export const linearGrowth = growthProperty('linear-growth', reasonOf)

function reasonOf({ points, exponents, limit }: Growth): string | null {
  const largest = points.at(-1)?.rows ?? 0
  if (limit !== null && largest < ENOUGH) return `no more than ${largest} rows fit into the budget: ${limit}`
  const { steps, rowsRead } = exponents
  const [word, exponent] = steps >= rowsRead ? ['steps', steps] : ['rows read', rowsRead]
  return exponent <= MOST ? null : `${word} grow with the rows to the power of ${exponent}`
}
