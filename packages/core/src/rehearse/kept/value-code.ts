import { types } from 'node:util'
import { HookError } from '../../errors.js'

/** A value as TypeScript writes it; runs no code of the value. */

/** Characters of code that a test may hold for one value. */
const LONGEST = 20_000
const DEEPEST = 20

/** As people write it: keys bare, texts in single quotes. @throws HookError rehearse/cannot-keep where code cannot say it */
export function valueCode(value: unknown): string {
  const code = codeOf(value, 0)
  if (code.length > LONGEST) throw cannot(`the value is longer than ${LONGEST} characters`)
  return code
}

const cannot = (detail: string) => new HookError('rehearse/cannot-keep', { detail })

export const textCode = (text: string): string =>
  `'${JSON.stringify(text).slice(1, -1).replace(/\\"/g, '"').replace(/'/g, "\\'")}'`

const isName = (key: string) => /^[A-Za-z_$][\w$]*$/.test(key)

function codeOf(value: unknown, depth: number): string {
  if (typeof value === 'string') return textCode(value)
  if (typeof value === 'number') return Object.is(value, -0) ? '-0' : String(value)
  if (typeof value === 'bigint') return `${value}n`
  if (value === null || value === undefined || typeof value === 'boolean') return String(value)
  if (typeof value !== 'object' || types.isProxy(value)) throw cannot(`a ${typeof value} cannot be written into a test`)
  if (depth > DEEPEST) throw cannot(`the value is nested deeper than ${DEEPEST} levels`)
  const list = (items: readonly unknown[]) => `[${items.map((item) => codeOf(item, depth + 1)).join(', ')}]`
  if (Array.isArray(value)) return list(Array.from({ length: value.length }, (_, at) => own(value, String(at))))
  if (types.isMap(value)) return `new Map(${list([...Map.prototype.entries.call(value)])})`
  if (types.isSet(value)) return `new Set(${list([...Set.prototype.values.call(value)])})`
  if (types.isDate(value)) return `new Date(${Date.prototype.getTime.call(value)})`
  const parts = Object.keys(value).map((key) => `${isName(key) ? key : textCode(key)}: ${codeOf(own(value, key), depth + 1)}`)
  return parts.length === 0 ? '{}' : `{ ${parts.join(', ')} }`
}

const own = (value: object, key: string): unknown => Object.getOwnPropertyDescriptor(value, key)?.value
