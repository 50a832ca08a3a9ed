import type { Field, Value } from './types.js'
import { isDate, isDateTime } from './dates.js'
import { numberIn } from './decimals.js'
import { fitsType, keptForm } from './values.js'

/** A value of one type as a value of another, where that can be done without guessing. */

const YES = new Set(['true', 'yes', '1'])
const NO = new Set(['false', 'no', '0'])

/** @returns undefined where the value cannot be one of that field */
export function convert(value: Value, to: Field): Value | undefined {
  if (value === null) return null
  const converted = toType(value, to)
  return converted !== undefined && fitsType(to, converted) ? keptForm(to, converted) : undefined
}

function toType(value: Exclude<Value, null>, to: Field): Value | undefined {
  const text = typeof value === 'string' ? value.trim() : ''
  switch (to.type) {
    case 'string':
      if (to.format === 'date' && typeof value === 'string' && isDateTime(text) && !isDate(text)) return text.slice(0, 10)
      return typeof value === 'string' ? value : String(value)
    case 'integer':
    case 'number': {
      if (typeof value === 'boolean') return value ? 1 : 0
      if (typeof value === 'number') return value
      return numberIn(text)
    }
    case 'boolean': {
      if (typeof value === 'boolean') return value
      const word = typeof value === 'number' ? String(value) : text.toLowerCase()
      return YES.has(word) ? true : NO.has(word) ? false : undefined
    }
  }
}
