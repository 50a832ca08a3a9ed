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

/** By so many rows every kind of row has met every kind of record; before that, one more may wake a look-up that no other did. */
const ALL_MET = 100
/** So much more, between few rows and these, is no single look-up. */
const FAR_MORE = { times: 3, queries: 10 }

function reasonOf({ points, limit }: Growth): string | null {
  if (points.length === 0) return limit
  const few = points.find(({ rows }) => rows >= ALL_KINDS) ?? points.at(-1)!
  const many = points.find(({ rows }) => rows >= ALL_MET) ?? points.at(-1)!
  const farMore = many.queries >= few.queries * FAR_MORE.times && many.queries - few.queries >= FAR_MORE.queries
  const [from, to] = farMore
    ? [few, many]
    : [many, points.find(({ rows, queries }) => rows > many.rows && queries > many.queries)]
  return to ? `${from.queries} queries for ${from.rows} rows, ${to.queries} for ${to.rows}` : null
}
