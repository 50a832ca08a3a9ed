import type { ChangeOut, ErrorReport, Value, ValueKind } from '@patient-hook/contract'

/** Values and places as people read them. */

export const LETTER: Record<ValueKind | 'refused', string> = { typed: 'T', hook: 'H', ripple: 'R', sequence: 'N', refused: '×' }
export const KIND_WORD: Record<ValueKind | 'refused', string> = {
  typed: 'typed',
  hook: 'set by a hook',
  ripple: 'rippled',
  sequence: 'from a sequence',
  refused: 'refused',
}

/** Did somebody set the value? What a removed record held went with it. */
export const isSet = ({ by }: Pick<ChangeOut, 'by'>): boolean => by !== ''

export function show(value: Value | undefined): string {
  if (value === null || value === undefined) return '—'
  if (value === true) return 'yes'
  if (value === false) return 'no'
  return value === '' ? '""' : String(value)
}

export function placeOf(error: ErrorReport): string {
  const parts: string[] = []
  if (error.file) parts.push(error.file.replace(/^plugins\//, '') + (error.line ? `, line ${error.line}` : ''))
  if (error.table && error.row) parts.push(`${error.table}, row ${error.row}${error.id ? ` (id ${error.id})` : ''}`)
  if (error.field) parts.push(`field ${error.field}`)
  return parts.join(' · ')
}
