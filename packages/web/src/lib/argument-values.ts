import type { Argument } from '@patient-hook/contract'
import type { ArgumentShape, ExportedFunction, FunctionParameter } from '@patient-hook/core/language'

/** Values for the arguments of a function, as inputs hold them and as they are sent. */

/** What an input begins with: something of its type. */
export function firstValue(shape: ArgumentShape): unknown {
  switch (shape.kind) {
    case 'number':
      return 1
    case 'text':
      return ''
    case 'boolean':
      return false
    case 'choice':
      return shape.choices?.[0] ?? null
    case 'list':
    case 'set':
      return shape.of ? [firstValue(shape.of)] : []
    case 'map':
      return shape.key && shape.of ? [[firstValue(shape.key), firstValue(shape.of)]] : []
    case 'record':
      return Object.fromEntries(
        (shape.fields ?? []).filter((field) => !field.optional).map((field) => [field.name, firstValue(field.shape)]),
      )
    default:
      return null
  }
}

/** An argument as it is typed in; one that is left out is undefined. */
export interface TypedArgument {
  value: unknown
  left: boolean
}

export const firstArguments = ({ parameters }: ExportedFunction): TypedArgument[] =>
  parameters.map(({ shape, optional, rest }) => ({ value: rest ? [] : firstValue(shape), left: optional }))

/** As they are sent: the rest parameter is spread, and what is left out at the end is not there. */
export function argumentsOf(parameters: readonly FunctionParameter[], typed: readonly TypedArgument[]): Argument[] {
  const sent = parameters.flatMap(({ shape, rest }, index): (Argument | null)[] => {
    const { value, left } = typed[index] ?? { value: null, left: true }
    if (left) return [null]
    if (rest) return (Array.isArray(value) ? value : []).map((item: unknown) => ({ value: item }))
    return [shape.kind === 'map' || shape.kind === 'set' ? { value, as: shape.kind } : { value }]
  })
  while (sent.at(-1) === null) sent.pop()
  return sent.map((each) => each ?? { value: undefined })
}

/** Why a value is none of the shape; null where it is one. Only looks at what an input can get wrong. */
export function problemOf(shape: ArgumentShape, value: unknown, path = ''): string | null {
  const where = path === '' ? '' : `${path}: `
  if (value === null) return shape.nullable || shape.kind === 'json' ? null : `${where}a value is missing`
  if (shape.kind === 'none') return `${where}${shape.text} has no form editor`
  if (shape.kind === 'number') return typeof value === 'number' ? null : `${where}${JSON.stringify(value)} is not a number`
  if (shape.kind === 'record')
    return firstOf(
      (shape.fields ?? [])
        .filter(({ name, optional }) => !optional || (value as Record<string, unknown>)[name] !== undefined)
        .map(({ name, shape: of }) => problemOf(of, (value as Record<string, unknown>)[name] ?? null, `${path}.${name}`)),
    )
  if (shape.kind === 'list' || shape.kind === 'set')
    return firstOf(
      Array.isArray(value) ? value.map((item, at) => problemOf(shape.of!, item, `${path}[${at}]`)) : [`${where}no list`],
    )
  if (shape.kind === 'map')
    return firstOf((value as [unknown, unknown][]).map(([, item], at) => problemOf(shape.of!, item, `${path}[${at}]`)))
  return null
}

const firstOf = (problems: readonly (string | null)[]) => problems.find((problem) => problem !== null) ?? null
