import type { Field, Value } from '@patient-hook/contract'
import { numberIn } from '@patient-hook/core/decimals'
import Papa from 'papaparse'

/** Cells of an editable grid: values as they are typed and shown, and cells that come from a spreadsheet or a file. */

/** As shown in a cell being edited; `""` is empty text, an empty cell is null. */
export function cellText(value: Value | undefined): string {
  if (value === null || value === undefined) return ''
  return value === '' ? '""' : String(value)
}

const YES = ['true', 'yes']
const NO = ['false', 'no']

/** @param field undefined for the id @returns the value; text that is none of the field's type stays text, and is reported as a fault */
export function cellValue(field: Field | undefined, text: string): Value {
  if (text === '') return null
  const trimmed = text.trim()
  if (!field || field.type === 'integer' || field.type === 'number') return numberIn(trimmed) ?? text
  if (field.type === 'boolean') {
    const word = trimmed.toLowerCase()
    return YES.includes(word) ? true : NO.includes(word) ? false : text
  }
  return text === '""' ? '' : text
}

/** Cells as a spreadsheet puts them on the clipboard: rows by lines, cells by tabs, quotes around what holds either. */
export const fromClipboard = (text: string): string[][] =>
  Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' }).data

export const toClipboard = (cells: readonly (readonly string[])[]): string =>
  Papa.unparse(cells as string[][], { delimiter: '\t' })
