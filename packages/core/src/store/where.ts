import { HookError } from '../errors.js'
import { quote } from '../model/ddl.js'
import { utcText } from '../model/dates.js'
import { fieldHint } from '../model/names.js'
import type { Field, Table, Value } from '../model/types.js'
import { expectedOf, gotOf } from '../model/values.js'
import { jsonNumber, toSql } from './records.js'

/** Conditions on a table's fields, as SQL. */

export const bad = (detail: string) => new HookError('hook/bad-query', { detail })

/** @throws HookError hook/unknown-field */
export function fieldOf(table: Table, name: string): Field | 'id' {
  if (name === 'id') return 'id'
  const field = table.fields.find((each) => each.name === name)
  if (!field)
    throw new HookError('hook/unknown-field', { table: table.name, field: String(name), hint: fieldHint(String(name), table) })
  return field
}

const TYPE_OF = { string: 'string', integer: 'number', number: 'number', boolean: 'boolean' } as const

/**
 * The one field that a condition names and the value that it is to have, where that is all; most conditions of effects are such.
 * @returns null for any other, also for one that cannot be; a moment may be written in several ways, so it is none
 */
export function plainCondition(table: Table, where: object): { name: string; value: Value } | null {
  let name: string | null = null
  for (const each of Object.keys(where)) {
    if (name !== null) return null
    name = each
  }
  if (name === null) return null
  const value = (where as Record<string, unknown>)[name] as Value
  if (value === null) return null
  if (name === 'id') return Number.isSafeInteger(value) ? { name, value } : null
  const field = table.fields.find((each) => each.name === name)
  const fits = field && field.format !== 'date-time' && typeof value === TYPE_OF[field.type]
  return fits && (typeof value !== 'number' || Number.isFinite(value)) ? { name, value } : null
}

const COMPARE = { lt: '<', lte: '<=', gt: '>', gte: '>=' } as const
/** What one look-up may ask: conditions, values of a list, characters of a pattern. More would only make the database work longer. */
const MOST_CONDITIONS = 200
const MOST_LISTED = 200_000
const LONGEST_PATTERN = 200

const OPERATORS = ['eq', 'not', 'in', 'lt', 'lte', 'gt', 'gte', 'like', 'empty']

/** ` WHERE ...` for conditions on fields, all of which must hold. @throws HookError */
export function whereSql(table: Table, where: Record<string, unknown>): { sql: string; parameters: unknown[] } {
  const parts: string[] = []
  const parameters: unknown[] = []
  if (gotOf(where) !== 'an object') throw bad(`a condition on ${table.name} is an object of fields, but got ${gotOf(where)}`)
  for (const [name, condition] of Object.entries(where)) {
    const field = fieldOf(table, name)
    const place = `${table.name}.${name}`
    const column = quote(name)
    const ofList = field === 'id' ? 'value' : jsonNumber(field, 'value')
    const value = (given: unknown): unknown => {
      if (given === null) return null
      const fits =
        field === 'id'
          ? Number.isSafeInteger(given)
          : typeof given === TYPE_OF[field.type] && (typeof given !== 'number' || Number.isFinite(given))
      if (!fits)
        throw bad(`${place} is compared with ${gotOf(given)}, but holds ${field === 'id' ? 'an integer' : expectedOf(field)}`)
      // A moment is found in whichever offset it is asked for.
      const utc = field !== 'id' && field.format === 'date-time' ? utcText(given as string) : null
      return utc ?? toSql(given as Value)
    }
    const list = (given: unknown): string => {
      if (!Array.isArray(given)) throw bad(`${place}: in takes a list, but got ${gotOf(given)}`)
      if (given.length > MOST_LISTED)
        throw bad(`${place}: a list holds at most ${MOST_LISTED} values, but this one has ${given.length}`)
      return JSON.stringify(given.map(value))
    }
    const conditions = gotOf(condition) === 'an object' ? Object.entries(condition as object) : [['eq', condition] as const]
    if (Array.isArray(condition)) throw bad(`${place}: write { in: [...] } for a list`)
    if (conditions.length === 0) throw bad(`${place}: the condition is empty; write a value or one of ${OPERATORS.join(', ')}`)
    for (const [operator, given] of conditions) {
      if (given === undefined) throw bad(`${place}: ${operator} was given undefined`)
      switch (operator) {
        case 'eq':
        case 'not':
          if (Array.isArray(given) && operator === 'not') {
            const some = given.filter((each) => each !== null)
            parts.push(`(${column} IS NULL OR ${column} NOT IN (SELECT ${ofList} FROM json_each(?)))`)
            parameters.push(list(some))
            if (some.length < given.length) parts.push(`${column} IS NOT NULL`)
          } else {
            parts.push(`${column} ${operator === 'eq' ? 'IS' : 'IS NOT'} ?`)
            parameters.push(value(given))
          }
          break
        case 'in': {
          const text = list(given)
          const orNull = (given as unknown[]).includes(null)
          parts.push(`(${column} IN (SELECT ${ofList} FROM json_each(?))${orNull ? ` OR ${column} IS NULL` : ''})`)
          parameters.push(text)
          break
        }
        case 'lt':
        case 'lte':
        case 'gt':
        case 'gte':
          parts.push(`${column} ${COMPARE[operator]} ?`)
          parameters.push(value(given))
          break
        case 'like':
          if (typeof given !== 'string') throw bad(`${place}: like takes text, but got ${gotOf(given)}`)
          if (given.length > LONGEST_PATTERN)
            throw bad(`${place}: a pattern of like has at most ${LONGEST_PATTERN} characters, but this one has ${given.length}`)
          parts.push(`${column} LIKE ?`)
          parameters.push(given)
          break
        case 'empty':
          if (typeof given !== 'boolean') throw bad(`${place}: empty takes true or false, but got ${gotOf(given)}`)
          parts.push(given ? `(${column} IS NULL OR ${column} = '')` : `(${column} IS NOT NULL AND ${column} <> '')`)
          break
        default:
          throw bad(`${place}: there is no condition ${operator}; there are ${OPERATORS.join(', ')}`)
      }
    }
  }
  if (parts.length > MOST_CONDITIONS)
    throw bad(`a look-up has at most ${MOST_CONDITIONS} conditions, but this one has ${parts.length}`)
  return { sql: parts.length ? ` WHERE ${parts.join(' AND ')}` : '', parameters }
}
