import type { Field, Value } from '../model/types.js'
import { toSql } from './records.js'
import { constantSource, jsonSql, type SetWrite, type Source, type Sql } from './set-source.js'
import type { SetLookup } from './sql-functions.js'

/**
 * A set told by ids that lie close together, gone through as a range of its table: what each record takes is asked of JavaScript on the way. SQLite
 * then changes records as it comes by them, and no JSON has to be written first.
 */

export interface SetRange {
  source: Source
  /** Holds for the records of the set. */
  isMember: Sql
  /** ` ORDER BY …` in which the entries stand. */
  order: string
  lookup: SetLookup
}

/** How many ids of a range may be of no record of the set, for each that is. */
const MOST_BESIDE = 1

/** @returns null where ids are not told, do not come in order, or lie too far apart */
export function rangeOf({ fields, key, entries }: SetWrite): SetRange | null {
  if (key !== 'id' || entries.length === 0 || entries.some(({ not }) => not !== null)) return null
  const ends = [entries[0]!.key, entries.at(-1)!.key] as [number, number]
  const rises = ends[0] < ends[1]
  const [low, high] = rises ? ends : [ends[1], ends[0]]
  if (high - low + 1 > entries.length * (1 + MOST_BESIDE) || !isInOrder(entries, rises)) return null
  const values: (readonly Value[] | undefined)[] = []
  const isWhole = high - low + 1 === entries.length
  for (let id = low; id <= high; id++) values.push(undefined)
  for (const { key: id, values: taken } of entries) values[(id as number) - low] = taken
  return {
    source: constantSource(fields, entries) ?? givenSource(fields),
    isMember: { sql: `"id" BETWEEN ? AND ?${isWhole ? '' : ' AND ph_told("id")'}`, parameters: [low, high] },
    order: rises ? '' : ' ORDER BY "id" DESC',
    lookup: {
      given: (id, index) => toSql(values[id - low]![index]!),
      told: (id) => values[id - low] !== undefined,
    },
  }
}

function isInOrder(entries: SetWrite['entries'], rises: boolean): boolean {
  for (let index = 1; index < entries.length; index++)
    if ((entries[index]!.key as number) > (entries[index - 1]!.key as number) !== rises) return false
  return true
}

const givenSource = (fields: readonly Field[]): Source => ({
  sql: '',
  parameters: [],
  values: fields.map((field, index) => ({ sql: givenSql(field, index), parameters: [] })),
  json: fields.map((field, index) => ({ sql: jsonSql(field, givenSql(field, index)), parameters: [] })),
})

/** All numbers come from JavaScript as REAL. */
function givenSql({ type }: Field, index: number): string {
  const given = `ph_given("id", ${index})`
  return type === 'integer' || type === 'boolean' ? `CAST(${given} AS INTEGER)` : given
}
