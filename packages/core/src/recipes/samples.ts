import { isMultipleOf } from '../model/decimals.js'
import type { Field, Value } from '../model/types.js'
import { boundsProblem, fitsType } from '../model/values.js'
import { patternText } from './pattern-text.js'

/** Values for generated tests, made from the schema alone. */

/** Does the schema allow the value? Links and unique values are not looked at. */
export const suits = (field: Field, value: Value): boolean =>
  fitsType(field, value) && (value === null || boundsProblem('', field, value) === null)

/** Small whole numbers, or small multiples, that the field takes, ascending. */
export function sampleNumbers(field: Field): number[] {
  const step = field.multipleOf !== null && !isMultipleOf(1, field.multipleOf) ? field.multipleOf : 1
  const from = Math.ceil((field.minimum ?? field.exclusiveMinimum ?? 1) / step)
  return Array.from({ length: 60 }, (_, index) => Number(((from + index) * step).toPrecision(12))).filter((value) =>
    suits(field, value),
  )
}

function sampleTexts(field: Field): string[] {
  if (field.format === 'date') return ['2026-03-01', '2026-03-02', '2026-03-03']
  if (field.format === 'date-time') return ['2026-03-01T09:00:00.000Z', '2026-03-02T09:00:00.000Z', '2026-03-03T09:00:00.000Z']
  const { pattern, minLength, maxLength } = field
  const word = field.label.toLowerCase().slice(0, maxLength === null ? undefined : Math.max(0, maxLength - 2))
  const texts = [1, 2, 3, 4].map((n) =>
    pattern === null ? `${word} ${n}`.padEnd(minLength ?? 0, 'x').slice(-(maxLength ?? Infinity)) : patternText(pattern, n),
  )
  return texts.filter((text) => text !== null && suits(field, text)) as string[]
}

/** The n-th value of a field that is not a link, from 0; several n give different values as far as the field has them. */
export function sample(field: Field, n: number): Value {
  if (field.type === 'boolean') return n % 2 === 0
  const values: readonly Value[] = field.enum ?? (field.type === 'string' ? sampleTexts(field) : sampleNumbers(field))
  return values[n % Math.max(1, values.length)] ?? null
}
