/**
 * Thousand-seed mass and what follows from it.
 * Source: ISTA, International Rules for Seed Testing, chapter 10 (weight determination): eight replicates of 100 seeds;
 * s² = (n Σx² − (Σx)²) / (n (n − 1)); coefficient of variation = s / mean × 100, at most 4.0 for seed that is not chaffy;
 * thousand-seed mass = mean × 10. The formulas and the limit are quoted from memory.
 */

/** Grams of a thousand seeds, from replicates of 100 seeds each, in grams. */
export function thousandSeedMass(replicates: readonly number[]): number {
  return mean(replicates) * 10
}

/** Per cent. */
export function coefficientOfVariation(replicates: readonly number[]): number {
  const n = replicates.length
  const sum = replicates.reduce((total, x) => total + x, 0)
  const squares = replicates.reduce((total, x) => total + x * x, 0)
  const variance = (n * squares - sum * sum) / (n * (n - 1))
  return (Math.sqrt(variance) / mean(replicates)) * 100
}

/** Seeds in a mass, to the nearest whole seed. Both masses in grams. */
export function seedsInMass(netMass: number, thousandMass: number): number {
  return Math.round((netMass / thousandMass) * 1000)
}

const mean = (values: readonly number[]) => values.reduce((total, x) => total + x, 0) / values.length
