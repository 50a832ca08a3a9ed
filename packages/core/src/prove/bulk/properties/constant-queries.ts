import type { Growth } from '@patient-hook/contract'
import { ALL_KINDS, growthProperty } from './growth.js'

export const constantQueries = growthProperty('constant-queries', reasonOf)

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
