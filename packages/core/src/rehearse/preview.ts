import { describeClosed, partsOf } from '../entry/describe.js'

/** A value in a few characters, for the margin beside the code. Never runs code of the value. */

const LONGEST = 60

export function preview(value: unknown): string {
  const text = show(value, 0)
  return text.length > LONGEST ? text.slice(0, LONGEST - 1) + '…' : text
}

function show(value: unknown, depth: number): string {
  if (typeof value === 'string') return JSON.stringify(value.length > LONGEST ? value.slice(0, LONGEST) : value)
  if (value === null || (typeof value !== 'object' && typeof value !== 'function' && typeof value !== 'symbol')) {
    return typeof value === 'bigint' ? `${value}n` : String(value)
  }
  const closed = describeClosed(value)
  if (closed !== null) return closed
  try {
    const parts = partsOf(value as object)
    switch (parts.kind) {
      case 'words':
        return parts.text
      case 'list':
        return counted(parts.count, 'items', parts.items, depth, (item) => show(item, depth + 1))
      case 'set':
        return counted(parts.count, 'values', parts.items, depth, (item) => show(item, depth + 1))
      case 'map':
        return counted(
          parts.count,
          'found',
          parts.items,
          depth,
          ([key, item]) => `${show(key, depth + 1)}: ${show(item, depth + 1)}`,
        )
      case 'object': {
        if (depth > 1) return `{ ${parts.count} }`
        const shown = [...parts.items].slice(0, 6).map(([key, item]) => `${key}: ${show(item, depth + 1)}`)
        return `{ ${shown.join(', ')}${parts.count > 6 ? ', …' : ''} }`
      }
    }
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
