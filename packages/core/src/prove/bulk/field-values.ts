import type { InputRow, Value } from '@patient-hook/contract'
import type { Field, RecordValues, Table } from '../../model/types.js'
import { isMultipleOf } from '../../model/decimals.js'
import { fitsType } from '../../model/values.js'
import { generator } from './generator.js'

/** Values that a field takes, made from the schema alone, and values that differ from each other where a table asks for it. */

/** Does the schema allow it? Links and unique values are not looked at. */
export function fits(field: Field, value: Value): boolean {
  if (!fitsType(field, value)) return false
  if (typeof value === 'string')
    return (
      value.length >= (field.minLength ?? 0) &&
      value.length <= (field.maxLength ?? Infinity) &&
      (field.pattern === null || new RegExp(field.pattern, 'u').test(value))
    )
  if (typeof value !== 'number') return true
  return (
    value >= (field.minimum ?? -Infinity) &&
    value <= (field.maximum ?? Infinity) &&
    value > (field.exclusiveMinimum ?? -Infinity) &&
    value < (field.exclusiveMaximum ?? Infinity) &&
    (field.multipleOf === null || isMultipleOf(value, field.multipleOf))
  )
}

/** Some values of a field that is neither a link, nor a choice, nor true or false; of what is made, only what fits. */
export function made(field: Field): Value[] {
  if (field.format === 'date') return ['2026-01-05', '2026-06-30', '2024-02-29']
  if (field.format === 'date-time') return ['2026-01-05T09:00:00.000Z', '2026-06-30T23:59:59.999Z']
  const all: Value[] =
    field.type !== 'string' ? numbers(field) : field.pattern === null ? texts(field) : matching(field.pattern, 1, 4)
  return all.filter((value) => fits(field, value))
}

const texts = ({ minLength }: Field): string[] => ['a', 'b', 'bc'].map((text) => text.padEnd(minLength ?? 0, 'x'))

/** Numbers that show what is rounded: none of these has a finite form in binary, and 0.005 lies between two cents. */
const FRACTIONS = [0.29, 0.005, 1 / 3]

function numbers(field: Field): number[] {
  const step = stepOf(field)
  const from = Math.ceil((field.minimum ?? field.exclusiveMinimum ?? 0) / step)
  const whole = [0, 1, 2, 3, 7, 20].map((count) => tidy((from + count) * step))
  return field.type === 'number' && field.multipleOf === null ? [...whole, ...FRACTIONS.map((each) => from * step + each)] : whole
}

const stepOf = ({ multipleOf, type }: Field): number => multipleOf ?? (type === 'integer' ? 1 : 0.5)
/** Seven times 0.1 is 0.7. */
const tidy = (value: number): number => Number(value.toPrecision(12))

/** Texts of a pattern, the same ones each time; none where it is of a kind that cannot be made up. */
function matching(pattern: string, seed: number, count: number): string[] {
  const fc = generator()
  try {
    return fc.sample(fc.stringMatching(new RegExp(pattern, 'u')), { seed, numRuns: count })
  } catch {
    return []
  }
}

/**
 * The values of a record, with those of unique fields and sets made so no two places have the same.
 * @param salt tells several calls for the same places apart
 */
export function distinct<T extends Record<string, Value>>(table: Table, values: T, place: number, salt: number): T {
  const result: Record<string, Value> = { ...values }
  const done = new Set<string>()
  for (const set of uniqueSets(table)) {
    const typed = set.filter((name) => result[name] !== null && result[name] !== undefined)
    // What has an empty part is like no other.
    if (typed.length === 0 || set.some((name) => result[name] === null) || typed.some((name) => done.has(name))) continue
    for (const name of typed) {
      const field = table.fields.find((each) => each.name === name)!
      const other = otherValue(field, result[name]!, place, salt)
      if (other === undefined) continue
      result[name] = other
      done.add(name)
      break
    }
  }
  return result as T
}

/** Without rows that hold, in fields where no two may, the same as one before them. */
export function withoutTwins(tables: ReadonlyMap<string, Table>, rows: readonly InputRow[]): InputRow[] {
  const taken = new Set<string>()
  return rows.filter(({ table: name, values = {} }) => {
    const table = tables.get(name)!
    const keys = uniqueSets(table)
      .filter((set) => set.every((field) => values[field] !== null && values[field] !== undefined))
      .map((set) => JSON.stringify([name, set, set.map((field) => values[field])]))
    if (keys.some((key) => taken.has(key))) return false
    for (const key of keys) taken.add(key)
    return true
  })
}

const uniqueSets = ({ fields, uniqueSets: sets }: Table): (readonly string[])[] => [
  ...fields.filter(({ unique }) => unique).map(({ name }) => [name]),
  ...sets,
]

/** @returns undefined where the field has only certain values */
function otherValue(field: Field, value: Value, place: number, salt: number): Value | undefined {
  if (field.link || field.enum || typeof value === 'boolean') return undefined
  const at = salt * 10_000 + place + 1
  if (field.format === 'date') return new Date(Date.UTC(2030, 0, at)).toISOString().slice(0, 10)
  if (field.format === 'date-time') return new Date(Date.UTC(2030, 0, 1, 0, 0, at)).toISOString()
  if (typeof value === 'number') return otherNumber(field, value, at)
  const mark = `~${salt}${place}`
  const text = `${String(value).slice(0, Math.max(0, (field.maxLength ?? Infinity) - mark.length))}${mark}`
  return fits(field, text)
    ? text
    : field.pattern === null
      ? undefined
      : matching(field.pattern, at, 1).find((each) => fits(field, each))
}

function otherNumber(field: Field, value: number, at: number): number | undefined {
  const step = field.multipleOf ?? 1
  const least = Math.ceil((field.minimum ?? field.exclusiveMinimum ?? 0) / step)
  return [value + (100_000 + at) * step, (least + at) * step, (least + (at % 10_000)) * step]
    .map(tidy)
    .find((each) => fits(field, each))
}

/** What a record that must have something there has in a field; null for a link. */
export function plainValue(field: Field, id: number): Value {
  if (field.link) return null
  if (field.enum) return field.enum[0] as Value
  if (field.type === 'boolean') return false
  if (field.format === null && field.type === 'string' && field.pattern === null)
    return `${field.name} ${id}`.slice(0, field.maxLength ?? undefined).padEnd(field.minLength ?? 0, 'x')
  return made(field)[0] ?? null
}

/** The record with another id, and with its own values where no two may be the same. */
export const copyOf = (table: Table, record: RecordValues, id: number, place: number): RecordValues => ({
  ...distinct(table, record, place, 9),
  id,
})
