import { parse } from 'csv-parse/sync'
import { convert } from './convert.js'
import type { Field, Value } from './types.js'

/** Follows a change of a table's fields in its files of records; a file that it does not touch stays as it was written. */

export interface FieldChanges {
  renames: Readonly<Record<string, string>>
  removed: ReadonlySet<string>
  /** Fields of the new table whose values become others: of another type, with fewer choices, or filled. By new name. */
  changed: ReadonlyMap<string, { field: Field; fill: Value; isNew: boolean }>
}

export function rewriteRecords(file: string, text: string, changes: FieldChanges): string {
  return file.endsWith('.csv') ? rewriteCsv(text, changes) : rewriteJson(text, changes)
}

const isTouched = (names: Iterable<string>, { renames, removed, changed }: FieldChanges): boolean =>
  [...changed.values()].some((each) => each.isNew && each.fill !== null) ||
  [...names].some((name) => removed.has(name) || renames[name] !== undefined || changed.has(name))

function rewriteCsv(text: string, changes: FieldChanges): string {
  const { renames, removed, changed } = changes
  const rows = parse(text, {
    bom: true,
    relax_column_count: true,
    cast: (value: string, context: { quoting: boolean }) => ({ text: value, quoted: context.quoting }),
  }) as unknown as { text: string; quoted: boolean }[][]
  const [header, ...records] = rows
  if (
    !header ||
    !isTouched(
      header.map((cell) => cell.text),
      changes,
    )
  )
    return text
  const kept = header.map(({ text: name }) => !removed.has(name))
  const names = header.map(({ text: name }) => renames[name] ?? name)
  const added = [...changed].filter(([name, each]) => each.isNew && each.fill !== null && !names.includes(name))
  const cellOf = (value: Value) => ({ text: value === null ? '' : String(value), quoted: value === '' })
  // An empty cell is null and a quoted one is empty text: both stay what they are.
  const written = (cell: { text: string; quoted: boolean }) =>
    cell.quoted || /[",\r\n]/.test(cell.text) ? `"${cell.text.replace(/"/g, '""')}"` : cell.text
  const line = (cells: { text: string; quoted: boolean }[]) => cells.map(written).join(',')
  const lines = records.map((cells) => {
    const rewritten = cells.map((cell, column) => {
      const change = changed.get(names[column] ?? '')
      if (!change) return cell
      const value = cell.text === '' && !cell.quoted ? null : convert(cell.text, change.field)
      return value === null || value === undefined ? cellOf(change.fill) : { text: String(value), quoted: cell.quoted }
    })
    return line([...rewritten.filter((_, column) => kept[column] ?? true), ...added.map(([, each]) => cellOf(each.fill))])
  })
  const head = header.map((cell, column) => ({ ...cell, text: names[column]! })).filter((_, column) => kept[column])
  const ending = text.includes('\r\n') ? '\r\n' : '\n'
  const all = [line([...head, ...added.map(([name]) => ({ text: name, quoted: false }))]), ...lines]
  return all.join(ending) + (/\n$/.test(text) ? ending : '')
}

function rewriteJson(text: string, changes: FieldChanges): string {
  const { renames, removed, changed } = changes
  const records = JSON.parse(text) as Record<string, Value>[]
  if (!isTouched(new Set(records.flatMap((record) => Object.keys(record))), changes)) return text
  const rewritten = records.map((record) => {
    const values = new Map<string, Value>()
    for (const [name, value] of Object.entries(record)) if (!removed.has(name)) values.set(renames[name] ?? name, value)
    for (const [name, { field, fill }] of changed) {
      const value = convert(values.get(name) ?? null, field) ?? fill
      if (value !== null || values.has(name)) values.set(name, value)
    }
    return Object.fromEntries(values)
  })
  return JSON.stringify(rewritten, null, 2) + '\n'
}
