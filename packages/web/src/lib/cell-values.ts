import type { Field, FixtureRow, Value } from '@patient-hook/contract'
import Papa from 'papaparse'

/** Cells of an editable grid: values as they are typed and shown, and cells that come from a spreadsheet or a file. */

/** As it stands in a cell that is edited; `""` is empty text, an empty cell is null. */
export function cellText(value: Value | undefined): string {
  if (value === null || value === undefined) return ''
  return value === '' ? '""' : String(value)
}

const NUMBER = /^-?\d+(\.\d+)?(e[+-]?\d+)?$/i
const YES = ['true', 'yes']
const NO = ['false', 'no']

/** @param field undefined for the id @returns the value; text that is none of the field's type stays text, and is told as a fault */
export function cellValue(field: Field | undefined, text: string): Value {
  if (text === '') return null
  const trimmed = text.trim()
  if (!field || field.type === 'integer' || field.type === 'number') return NUMBER.test(trimmed) ? Number(trimmed) : text
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

/** A CSV file with a header row of names or labels, as rows of a table. @returns what its columns are that the table has not */
export function fromCsv(text: string, fields: readonly Field[]): { rows: FixtureRow[]; unknown: string[] } {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: true })
  const [header = [], ...lines] = data
  const columns = header.map((head) => {
    const word = head.trim().toLowerCase()
    if (word === 'id') return 'id' as const
    return fields.find(({ name, label }) => name.toLowerCase() === word || label.toLowerCase() === word)
  })
  const rows = lines.map((cells) =>
    Object.fromEntries(
      columns.flatMap((column, at) => {
        if (!column) return []
        const field = column === 'id' ? undefined : column
        return [[field?.name ?? 'id', cellValue(field, cells[at] ?? '')]]
      }),
    ),
  )
  return { rows, unknown: header.filter((_, at) => !columns[at]) }
}
