import { HOLDS, type BulkProperty } from '../property.js'
import { ALL_KINDS, measureGrowth } from './growth.js'

export const constantQueries: BulkProperty = {
  name: 'constant-queries',
  says: 'a batch asks as many queries with 2,000 rows as with few',
  prove(subject, effort) {
    const measured = measureGrowth(subject, effort)
    if (!measured) return HOLDS
    const { growth, batch } = measured
    const few = growth.points.find(({ rows }) => rows >= ALL_KINDS) ?? growth.points.at(-1)
    const more = growth.points.find(({ rows, queries }) => few && rows > few.rows && queries > few.queries)
    if (!few || !more)
      return growth.points.length === 0 ? { reason: growth.limit, batch: batch(1), growth } : { ...HOLDS, growth }
    return {
      reason: `${few.queries} queries for ${few.rows} rows, ${more.queries} for ${more.rows}`,
      batch: batch(2),
      growth,
    }
  },
}
