import type { Table } from './shapes/tables.js'
import type { Value } from './shapes/values.js'

/** What people call a record: a leaf that the server and the interface share. */

/**
 * The text field that names the records of a table: the one that the table says (`x-title`), else `name`, else the first
 * unique text, else the first text. Null where the table has no text.
 */
export function titleFieldOf({ titleField, fields }: Pick<Table, 'titleField' | 'fields'>): string | null {
  if (titleField !== null) return titleField
  const texts = fields.filter((field) => field.type === 'string' && !field.enum && !field.format)
  return (texts.find(({ name }) => name === 'name') ?? texts.find(({ unique }) => unique) ?? texts[0])?.name ?? null
}

/** @param values of the record, as far as they are known @returns "Lot HV-00000003", or "Lot 3" without a title */
export function recordTitle(table: Table, id: number | null, values: Readonly<Record<string, Value | undefined>> | null): string {
  const field = titleFieldOf(table)
  const title = field === null ? null : values?.[field]
  return `${table.label} ${title === null || title === undefined || title === '' ? (id ?? '(new)') : String(title)}`
}
