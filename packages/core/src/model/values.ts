import { tryPattern } from '../watch.js'
import { isMultipleOf } from './decimals.js'
import type { Field, Value } from './types.js'

/**
 * Checks of single values. `typeProblem` is the first station of a save (type and enum), `boundsProblem` the one
 * after the hooks (everything else JSON Schema can say of a value). Both agree with ajv (see values.test.ts).
 */

const DATE = /^(\d{4})-(\d\d)-(\d\d)$/

/** ISO 8601 calendar date, as RFC 3339 full-date. */
export function isDate(text: string): boolean {
  const parts = DATE.exec(text)
  if (!parts) return false
  const [year, month, day] = [Number(parts[1]), Number(parts[2]), Number(parts[3])]
  const leap = year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0)
  const days = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]
  return month >= 1 && month <= 12 && day >= 1 && day <= days[month - 1]!
}

/** Date and time with an offset, as RFC 3339 date-time: `T` between them, and a colon in the offset. */
export function isDateTime(text: string): boolean {
  const [date, time, more] = text.split(/t/i)
  if (date === undefined || time === undefined || more !== undefined || !isDate(date)) return false
  const parts = /^(\d\d):(\d\d):(\d\d(?:\.\d+)?)(z|([+-])(\d\d):(\d\d))$/i.exec(time)
  if (!parts) return false
  const [hour, minute, second] = [Number(parts[1]), Number(parts[2]), Number(parts[3])]
  const sign = parts[5] === '-' ? -1 : 1
  const [offsetHour, offsetMinute] = [Number(parts[6] ?? 0), Number(parts[7] ?? 0)]
  if (offsetHour > 23 || offsetMinute > 59) return false
  if (hour <= 23 && minute <= 59 && second < 60) return true
  const utcMinute = minute - offsetMinute * sign
  const utcHour = hour - offsetHour * sign - (utcMinute < 0 ? 1 : 0)
  return (utcHour === 23 || utcHour === -1) && (utcMinute === 59 || utcMinute === -1) && second < 61
}

/** Longest text that a field holds, in UTF-16 units. */
export const LONGEST_TEXT = 1_000_000

/** Well-formed Unicode (no half of a surrogate pair, which cannot be stored) of a length that can be handled. */
export const isText = (text: string): boolean =>
  text.length <= LONGEST_TEXT && (text as string & { isWellFormed(): boolean }).isWellFormed()

/** What a field takes, in words, for messages: "an integer", "one of low, normal", "a date (YYYY-MM-DD)". */
export function expectedOf(field: Field): string {
  if (field.enum) return `one of ${field.enum.join(', ')}`
  if (field.link) return `the id of a ${field.link.table} record (an integer)`
  if (field.format === 'date') return 'a date as text (YYYY-MM-DD)'
  if (field.format === 'date-time') return 'a date and time as text (YYYY-MM-DDThh:mm:ssZ)'
  return { string: 'text', integer: 'an integer', number: 'a number', boolean: 'true or false' }[field.type]
}

/** What came, in words, for messages: `text "12"`, `the number NaN`, `undefined`. */
export function gotOf(value: unknown): string {
  if (typeof value === 'string') {
    if (value.length > LONGEST_TEXT) return `text of ${value.length} characters; a field holds at most ${LONGEST_TEXT}`
    const text = `text ${JSON.stringify(value.length > 60 ? value.slice(0, 57) + '...' : value)}`
    return isText(value) ? text : `${text}, which holds half of a surrogate pair`
  }
  if (typeof value === 'number') return `the number ${value}`
  if (value === null || value === undefined || typeof value === 'boolean') return String(value)
  // Nothing of a value is run or read that could be code of whoever made it.
  if (Array.isArray(value)) return 'a list'
  if (typeof value === 'object' && isDateObject(value)) return 'a Date object (fields hold ISO text)'
  return typeof value === 'object' ? 'an object' : `a ${typeof value}`
}

function isDateObject(value: object): boolean {
  try {
    Date.prototype.getTime.call(value)
    return true
  } catch {
    return false
  }
}

/** Is this a value that the field's type and enum allow? Null always is, at this station. */
export function fitsType(field: Field, value: unknown): value is Value {
  if (value === null) return true
  switch (field.type) {
    case 'string':
      if (typeof value !== 'string' || !isText(value)) return false
      break
    case 'integer':
      if (!Number.isSafeInteger(value)) return false
      break
    case 'number':
      if (typeof value !== 'number' || !Number.isFinite(value)) return false
      break
    case 'boolean':
      return typeof value === 'boolean'
  }
  if (field.enum) return field.enum.includes(value as string | number)
  if (field.format === 'date') return isDate(value as string)
  if (field.format === 'date-time') return isDateTime(value as string)
  return true
}

type BoundsCheck = (value: Exclude<Value, null>) => string | null
const boundsChecks = new WeakMap<Field, BoundsCheck | null>()

/** What is out of bounds, in words that follow the field's label, or null when nothing is. */
export function boundsProblem(table: string, field: Field, value: Exclude<Value, null>): string | null {
  const check = boundsCheck(table, field)
  return check === null ? null : check(value)
}

/** The check of a field's bounds, or null when it has none. Made once per field. */
export function boundsCheck(table: string, field: Field): BoundsCheck | null {
  let check = boundsChecks.get(field)
  if (check === undefined) boundsChecks.set(field, (check = makeBoundsCheck(table, field)))
  return check
}

function makeBoundsCheck(table: string, field: Field): BoundsCheck | null {
  const checks: BoundsCheck[] = []
  const bound = (limit: number | null, fails: (value: number, limit: number) => boolean, words: string) => {
    if (limit !== null && field.type !== 'string' && field.type !== 'boolean')
      checks.push((value) => (fails(value as number, limit) ? `${words} ${limit}, but is ${value}` : null))
  }
  bound(field.minimum, (value, limit) => value < limit, 'must be at least')
  bound(field.maximum, (value, limit) => value > limit, 'must be at most')
  bound(field.exclusiveMinimum, (value, limit) => value <= limit, 'must be more than')
  bound(field.exclusiveMaximum, (value, limit) => value >= limit, 'must be less than')
  bound(field.multipleOf, (value, limit) => !isMultipleOf(value, limit), 'must be a multiple of')
  if (field.type === 'string') {
    const { minLength, maxLength, pattern } = field
    // JSON Schema counts characters (code points), not UTF-16 units.
    if (minLength !== null)
      checks.push((value) => ([...(value as string)].length < minLength ? `must have at least ${minLength} characters` : null))
    if (maxLength !== null)
      checks.push((value) => {
        const text = value as string
        return text.length > maxLength && [...text].length > maxLength ? `must have at most ${maxLength} characters` : null
      })
    if (pattern !== null) {
      const regex = new RegExp(pattern, 'u')
      checks.push((value) =>
        tryPattern(regex, value as string, table, field.name)
          ? null
          : `must match the pattern ${pattern}, but is ${JSON.stringify(value)}`,
      )
    }
  }
  if (checks.length === 0) return null
  return (value) => {
    for (const check of checks) {
      const problem = check(value)
      if (problem) return problem
    }
    return null
  }
}
