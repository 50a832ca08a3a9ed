import { Unusable } from '../unusable.js'
import { tryPattern } from '../watch.js'
import { isMultipleOf } from './decimals.js'
import { isDate, utcText } from './dates.js'
import type { Field, Value } from './types.js'

/**
 * Checks of single values. `typeProblem` is the first station of a save (type and enum), `boundsProblem` the one
 * after the hooks (everything else JSON Schema can say of a value). Both agree with ajv (see values.test.ts).
 */

/** Held here, since what stands on the globals is slower to reach once they are frozen. */
const { isSafeInteger, isFinite } = Number

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
  if (field.format === 'date-time')
    return 'a date and time as text, with its offset and no finer than a millisecond (YYYY-MM-DDThh:mm:ssZ)'
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
  const unusable = Unusable.saidOf(value)
  if (unusable !== null) return unusable
  if (isList(value)) return 'a list'
  if (typeof value === 'object' && isDateObject(value)) return 'a Date object (fields hold ISO text)'
  return typeof value === 'object' ? 'an object' : `a ${typeof value}`
}

/** `Array.isArray` throws for a proxy that was revoked. */
function isList(value: unknown): boolean {
  try {
    return Array.isArray(value)
  } catch {
    return false
  }
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
      if (!isSafeInteger(value)) return false
      break
    case 'number':
      if (typeof value !== 'number' || !isFinite(value)) return false
      break
    case 'boolean':
      return typeof value === 'boolean'
  }
  if (field.format === 'date' && !isDate(value as string)) return false
  if (field.format === 'date-time' && utcText(value as string) === null) return false
  return !field.enum || field.enum.includes(keptForm(field, value as Value) as string | number)
}

/** A value that fits the field, in the form in which it is kept: of date-times that is UTC (dates.ts). */
export function keptForm(field: Field, value: Value): Value {
  return field.format === 'date-time' && typeof value === 'string' ? utcText(value) : value
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
