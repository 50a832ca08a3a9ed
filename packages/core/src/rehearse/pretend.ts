import type { Field, RecordValues, Value } from '../model/types.js'
import { isDate } from '../model/dates.js'
import { boundsProblem } from '../model/values.js'

/** A value other than the present one that the field would take, for a pretend change; null when none is found. */
export function pretendValue(table: string, field: Field, present: Value, others: readonly number[]): Value {
  const fits = (value: Value): boolean => value !== present && (value === null || boundsProblem(table, field, value) === null)
  for (const value of candidates(field, present, others)) if (fits(value)) return value
  return null
}

function candidates(field: Field, present: Value, others: readonly number[]): Value[] {
  if (field.link) return [others.find((id) => id !== present) ?? null]
  if (field.enum) {
    const at = field.enum.indexOf(present as string)
    return [...field.enum.slice(at + 1), ...field.enum.slice(0, Math.max(0, at))]
  }
  switch (field.type) {
    case 'boolean':
      return [present !== true]
    case 'integer':
    case 'number': {
      const step = field.multipleOf ?? 1
      const base = (present ?? field.minimum ?? 0) as number
      return [base + step, base - step, base + 10 * step]
    }
    case 'string':
      if (field.format) return [shiftDay(present, field.format)]
      return [`${(present as string | null) ?? 'text'} *`, 'text', 'A']
  }
}

function shiftDay(present: Value, format: 'date' | 'date-time'): string {
  const day = typeof present === 'string' && isDate(present.slice(0, 10)) ? present.slice(0, 10) : '2026-01-01'
  const next = new Date(Date.parse(day) + 86_400_000).toISOString().slice(0, 10)
  return format === 'date' ? next : `${next}${typeof present === 'string' ? present.slice(10) : 'T12:00:00Z'}`
}

/** The values of a record with some fields pretended to change. */
export function pretendChange(
  table: string,
  fields: readonly Field[],
  record: RecordValues,
  idsOf: (table: string) => readonly number[],
): Record<string, Value> {
  return Object.fromEntries(
    fields.map((field) => [
      field.name,
      pretendValue(table, field, record[field.name] ?? null, field.link ? idsOf(field.link.table) : []),
    ]),
  )
}
