import type { Growth } from '@patient-hook/contract'
import { HOLDS, type BulkProperty } from '../property.js'
import { ALL_KINDS, isOfOthers, measureGrowth } from './growth.js'

export const constantQueries: BulkProperty = {
  name: 'constant-queries',
  says: 'a batch asks as many queries with 2,000 rows as with few',
  prove(subject, effort) {
    const measured = measureGrowth(subject, effort)
    if (!measured) return HOLDS
    const { growth, batch } = measured
    const reason = reasonOf(growth)
    if (reason === null || isOfOthers(subject, effort, reasonOf)) return { ...HOLDS, growth }
    return { reason, batch: batch(2), growth }
  },
}

function reasonOf({ points, limit }: Growth): string | null {
  if (points.length === 0) return limit
  const few = points.find(({ rows }) => rows >= ALL_KINDS) ?? points.at(-1)!
  const more = points.find(({ rows, queries }) => rows > few.rows && queries > few.queries)
  return more ? `${few.queries} queries for ${few.rows} rows, ${more.queries} for ${more.rows}` : null
}
