import type { Field } from '../model/types.js'
import { isDate, utcText } from '../model/dates.js'
import { isText } from '../model/values.js'
import type { Value } from '../model/types.js'
import type { SourceColumn, SourceValue } from './source.js'

/** What a column becomes: the field's type by its declaration and by every value in it, and how its values are read. */

export interface FieldKind {
  type: Field['type']
  format: 'date' | 'date-time' | null
  enum: string[] | null
  maxLength: number | null
  read: (value: SourceValue) => Value
  /** What is altered or left out, in words. */
  notes: string[]
}

/** A handful of words that come again and again are choices. */
const MOST_CHOICES = 8
const FEWEST_FOR_CHOICES = 10
const LONGEST_CHOICE = 30

const count = (values: readonly SourceValue[], test: (value: SourceValue) => boolean): number => values.filter(test).length
/** The start of a sentence: `1 value is`, `2 values are`. */
const counted = (number: number, rest = ''): string =>
  `${number} ${number === 1 ? 'value' : 'values'}${rest} ${number === 1 ? 'is' : 'are'}`

/** @returns null where a column holds nothing that a field can hold */
export function fieldKind(column: SourceColumn, values: readonly SourceValue[]): FieldKind | null {
  const notes: string[] = []
  const isBinary = (value: SourceValue) => value instanceof Uint8Array
  const isUnfit = (value: SourceValue) => typeof value === 'string' && !isText(value)
  const filled = values.filter((value) => value !== null)
  const binary = count(filled, isBinary)
  if (binary > 0 && binary === filled.length) return null
  if (binary > 0) notes.push(`${counted(binary, ' of binary data')} left out`)
  const unfit = count(filled, isUnfit)
  if (unfit > 0) notes.push(`${counted(unfit, ' of text that is too long or not well formed')} left out`)
  const usable = filled.filter((value) => !isBinary(value) && !isUnfit(value))
  const kind = { format: null, enum: null, maxLength: null, notes }
  const orNull =
    (read: (value: SourceValue) => Value) =>
    (value: SourceValue): Value =>
      value === null || isBinary(value) || isUnfit(value) ? null : read(value)
  const asIs = orNull((value) => value as Value)
  const all = (test: (value: SourceValue) => boolean) => usable.length > 0 && usable.every(test)
  const isFinite = (value: SourceValue) => typeof value === 'number' && Number.isFinite(value)
  const { declared } = column

  if (all((value) => typeof value === 'boolean')) return { ...kind, type: 'boolean', read: asIs }
  if (/BOOL/i.test(declared) && (usable.length === 0 || all((value) => value === 0 || value === 1)))
    return { ...kind, type: 'boolean', read: orNull((value) => value === 1) }
  if (all(Number.isSafeInteger) && !/REAL|FLOA|DOUB|DEC|NUM/i.test(declared)) return { ...kind, type: 'integer', read: asIs }
  if (all(isFinite)) return { ...kind, type: 'number', read: asIs }
  if (all((value) => typeof value === 'string')) return textKind(column, usable as string[], kind, orNull)
  if (usable.length === 0) return { ...kind, ...declaredKind(declared), read: asIs }
  const others = count(usable, (value) => typeof value !== 'string')
  notes.push(`${counted(others)} kept as text: the column also holds text, or numbers too large to be exact`)
  return { ...kind, type: 'string', read: orNull(String) }
}

function textKind(
  { declared, choices }: SourceColumn,
  texts: readonly string[],
  kind: { format: null; enum: null; maxLength: null; notes: string[] },
  orNull: (read: (value: SourceValue) => Value) => (value: SourceValue) => Value,
): FieldKind {
  const plain = { ...kind, type: 'string' as const, read: orNull((value) => value as string) }
  if (texts.every(isDate)) return { ...plain, format: 'date' }
  // What SQLite itself writes has a space and no offset, and means UTC.
  const isStamp = /TIME|STAMP/i.test(declared)
  const stamp = (text: string): string | null =>
    utcText(text) ??
    (isStamp && /^\d{4}-\d\d-\d\d[ T]\d\d:\d\d(:\d\d(\.\d{1,3})?)?$/.test(text) ? utcText(withOffset(text)) : null)
  if (texts.every((text) => stamp(text) !== null)) {
    const without = texts.filter((text) => utcText(text) === null).length
    if (without > 0) plain.notes.push(`${counted(without, ' without an offset')} read as UTC`)
    return { ...plain, format: 'date-time', read: orNull((value) => stamp(value as string)) }
  }
  const distinct = [...new Set(texts)]
  if (choices && distinct.every((text) => choices.includes(text))) return { ...plain, enum: [...choices] }
  const repeats = texts.length >= FEWEST_FOR_CHOICES && distinct.length <= MOST_CHOICES && distinct.length * 3 <= texts.length
  if (declared === '' && repeats && distinct.every((text) => text.trim() !== '' && text.length <= LONGEST_CHOICE))
    return { ...plain, enum: distinct.sort() }
  const longest = texts.reduce((most, text) => Math.max(most, text.length), 0)
  const limit = Number(/CHAR[^(]*\((\d+)\)/i.exec(declared)?.[1] ?? NaN)
  if (longest > limit) plain.notes.push(`${declared} is not carried over: the longest text has ${longest} characters`)
  return { ...plain, maxLength: limit >= longest && limit > 0 ? limit : null }
}

const withOffset = (text: string): string => `${text.replace(' ', 'T')}${/:\d\d:\d\d/.test(text) ? '' : ':00'}Z`

/** Of a column without values: by SQLite's rules of affinity (sqlite.org/datatype3.html, 3.1), and by the usual names of dates. */
function declaredKind(declared: string): Pick<FieldKind, 'type' | 'format'> {
  if (/DATETIME|TIMESTAMP/i.test(declared)) return { type: 'string', format: 'date-time' }
  if (/^DATE$/i.test(declared)) return { type: 'string', format: 'date' }
  if (/INT/i.test(declared)) return { type: 'integer', format: null }
  if (/REAL|FLOA|DOUB|DEC|NUM/i.test(declared)) return { type: 'number', format: null }
  return { type: 'string', format: null }
}
