import type { Field, Table, Value } from '@patient-hook/contract'
import { numberIn } from '@patient-hook/core/decimals'

/** Conditions on records as people put them together, and the `where` that they make. */

export const OPERATORS = {
  eq: 'is',
  not: 'is not',
  in: 'is one of',
  empty: 'is empty',
  filled: 'has a value',
  lt: 'is less than',
  lte: 'is at most',
  gt: 'is more than',
  gte: 'is at least',
  like: 'is like',
} as const
export type Operator = keyof typeof OPERATORS

export interface Condition {
  field: string
  operator: Operator
  /** As typed; of `in` with commas between. */
  text: string
}

export type Where = Record<string, Value | Record<string, Value | Value[]>>

const ORDERED: readonly Operator[] = ['lt', 'lte', 'gt', 'gte']

/** Which operators make sense for a field. @param field null: the id */
export function operatorsFor(field: Field | null): Operator[] {
  const all = Object.keys(OPERATORS) as Operator[]
  if (field === null) return ['eq', 'not', 'in', ...ORDERED]
  if (field.link || field.type === 'boolean') return ['eq', 'not', 'empty', 'filled']
  if (field.enum) return ['eq', 'not', 'in', 'empty', 'filled']
  if (field.type === 'string' && !field.format) return all
  return all.filter((each) => each !== 'like')
}

export const needsText = (operator: Operator): boolean => operator !== 'empty' && operator !== 'filled'

/** @returns what is wrong with the text, in words; null where it is right */
function valueOf(field: Field | null, text: string): { value: Value } | { fault: string } {
  const trimmed = text.trim()
  if (field === null || field.link || field.type === 'integer' || field.type === 'number') {
    const value = numberIn(trimmed)
    const whole = field === null || field.link || field.type === 'integer'
    if (value === undefined || (whole && !Number.isSafeInteger(value)))
      return { fault: whole ? 'Enter a whole number' : 'Enter a number' }
    return { value }
  }
  if (field.type === 'boolean') {
    if (!['yes', 'no', 'true', 'false'].includes(trimmed)) return { fault: 'Enter yes or no' }
    return { value: trimmed === 'yes' || trimmed === 'true' }
  }
  return { value: text }
}

/** @returns the conditions that hold together as `find` takes them, and what is wrong, by place in the list */
export function whereOf(table: Table, conditions: readonly Condition[]): { where: Where; faults: Record<number, string> } {
  const where: Record<string, Record<string, Value | Value[]>> = {}
  const faults: Record<number, string> = {}
  conditions.forEach(({ field: name, operator, text }, at) => {
    const field = table.fields.find((each) => each.name === name) ?? null
    if (field === null && name !== 'id') return void (faults[at] = `there is no field ${name}`)
    const of = (where[name] ??= {})
    const add = (key: string, value: Value | Value[]) => {
      if (key in of) faults[at] = `${OPERATORS[operator]} stands there twice for ${name}`
      else of[key] = value
    }
    if (!needsText(operator)) return add('empty', operator === 'empty')
    if (operator === 'in') {
      const values = text.split(',').map((part) => valueOf(field, part.trim()))
      const fault = values.find((each) => 'fault' in each)
      if (fault && 'fault' in fault) return void (faults[at] = fault.fault)
      return add(
        'in',
        values.map((each) => (each as { value: Value }).value),
      )
    }
    if (text === '' && field?.type !== 'string') return void (faults[at] = 'Enter a value')
    const taken = operator === 'like' ? { value: text } : valueOf(field, text)
    if ('fault' in taken) faults[at] = taken.fault
    else add(operator, taken.value)
  })
  return { where, faults }
}

/** A `where` from a URL, as JSON; none where it cannot be read. */
export function whereIn(text: string): Where {
  try {
    const where = JSON.parse(text === '' ? '{}' : text) as unknown
    return where !== null && typeof where === 'object' && !Array.isArray(where) ? (where as Where) : {}
  } catch {
    return {}
  }
}

/** The conditions of a `where` that came with an address. */
export function conditionsOf(where: Where): Condition[] {
  return Object.entries(where).flatMap(([field, condition]) => {
    const parts = condition !== null && typeof condition === 'object' ? Object.entries(condition) : [['eq', condition] as const]
    return parts.map(([operator, value]): Condition => {
      if (operator === 'empty') return { field, operator: value === true ? 'empty' : 'filled', text: '' }
      if (operator === 'eq' && value === null) return { field, operator: 'empty', text: '' }
      const word = (each: unknown) => (each === true ? 'yes' : each === false ? 'no' : String(each))
      return {
        field,
        operator: operator in OPERATORS ? (operator as Operator) : 'eq',
        text: Array.isArray(value) ? value.map(word).join(', ') : word(value),
      }
    })
  })
}
