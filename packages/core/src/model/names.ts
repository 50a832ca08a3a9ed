import { distance } from 'fastest-levenshtein'
import type { Table } from './types.js'

/** Longer than any name, in characters. */
const LONGEST_MEANT = 100
/** Most names that are compared. */
const MOST_COMPARED = 2000

const plain = (text: string) => text.toLowerCase().replace(/[^a-z0-9]+/g, '')

/**
 * The name that was probably meant, for error messages; null when none is near.
 * A label is recognised too, since people know a field by its label.
 */
export function nearest(wanted: string, names: Iterable<string>): string | null {
  // Nobody means a name by a text of a megabyte; comparing it would take seconds.
  if (wanted.length > LONGEST_MEANT) return null
  let best: string | null = null
  let least = Math.max(2, Math.floor(wanted.length / 3)) + 1
  let compared = 0
  for (const name of names) {
    if (++compared > MOST_COMPARED) break
    if (plain(name) === plain(wanted)) return name
    const far = distance(plain(name), plain(wanted))
    if (far < least) [best, least] = [name, far]
  }
  return best
}

/** "; did you mean seeds?", or that it is a label, or nothing. */
export function hintFor(wanted: string, names: Iterable<string>): string {
  const name = nearest(wanted, names)
  return name === null ? '' : `; did you mean ${name}?`
}

export function fieldHint(wanted: string, table: Table): string {
  if (wanted.length > LONGEST_MEANT) return ''
  const byLabel = table.fields.find((field) => plain(field.label) === plain(wanted))
  if (byLabel && byLabel.name !== wanted) return `; "${wanted}" is the label of ${byLabel.name}`
  return hintFor(wanted, ['id', ...table.fields.map((field) => field.name)])
}
