import { types } from 'node:util'
import { Found } from '../store/found.js'

/** A value in a few characters, for the margin beside the code. Never runs code of the value. */

const LONGEST = 60

export function preview(value: unknown): string {
  const text = show(value, 0)
  return text.length > LONGEST ? text.slice(0, LONGEST - 1) + '…' : text
}

function show(value: unknown, depth: number): string {
  if (typeof value === 'string') return JSON.stringify(value.length > LONGEST ? value.slice(0, LONGEST) : value)
  if (typeof value === 'bigint') return `${value}n`
  if (value === null || typeof value !== 'object') return typeof value === 'function' ? 'a function' : String(value)
  if (types.isProxy(value)) return 'a proxy'
  try {
    if (Array.isArray(value)) return counted(value.length, 'items', value, depth, (item) => show(item, depth + 1))
    if (value instanceof Map || value instanceof Found)
      return counted(value.size, 'found', value, depth, ([key, item]) => `${show(key, depth + 1)}: ${show(item, depth + 1)}`)
    if (value instanceof Set) return counted(value.size, 'values', value, depth, (item) => show(item, depth + 1))
    if (value instanceof Date) return Number.isNaN(value.getTime()) ? 'no valid date' : value.toISOString()
    if (value instanceof RegExp) return String(value)
    const own = Object.entries(Object.getOwnPropertyDescriptors(value)).filter(([, each]) => 'value' in each && each.enumerable)
    if (depth > 1) return `{ ${own.length} }`
    return `{ ${own
      .slice(0, 6)
      .map(([key, each]) => `${key}: ${show(each.value, depth + 1)}`)
      .join(', ')}${own.length > 6 ? ', …' : ''} }`
  } catch {
    return 'an object'
  }
}

function counted<T>(count: number, word: string, items: Iterable<T>, depth: number, each: (item: T) => string): string {
  if (depth > 1 || count === 0) return `${count} ${word}`
  const shown: string[] = []
  for (const item of items) if (shown.push(each(item)) === 3) break
  return `${count} ${word}: ${shown.join(', ')}${count > 3 ? ', …' : ''}`
}
