import type { Field, Table } from './types.js'

/** SQL for a table: a STRICT table with typed columns, foreign keys, and an index per link. */

/** An identifier; quotes in it are doubled. */
export const quote = (name: string): string => `"${name.replaceAll('"', '""')}"`

const COLUMN = { string: 'TEXT', integer: 'INTEGER', number: 'REAL', boolean: 'INTEGER' } as const

export function columnSql(field: Field): string {
  const parts = [quote(field.name), COLUMN[field.type]]
  if (field.required) parts.push('NOT NULL')
  if (field.type === 'boolean') parts.push(`CHECK (${quote(field.name)} IN (0, 1))`)
  // Deferred, because a document's rows are written table by table; the save path handles deletes itself.
  if (field.link) parts.push(`REFERENCES ${quote(field.link.table)} ("id") DEFERRABLE INITIALLY DEFERRED`)
  return parts.join(' ')
}

/** Of a unique field, or of fields that are unique together. */
export const uniqueIndexName = (table: Table, fields: readonly string[]): string => `${table.name}.${fields.join('+')}`

export function indexSql(table: Table): string[] {
  const statements: string[] = []
  for (const field of table.fields) {
    if (!field.link && !field.index && !field.unique) continue
    const unique = field.unique ? 'UNIQUE ' : ''
    statements.push(
      `CREATE ${unique}INDEX ${quote(uniqueIndexName(table, [field.name]))} ON ${quote(table.name)} (${quote(field.name)})`,
    )
  }
  for (const set of table.uniqueSets)
    statements.push(
      `CREATE UNIQUE INDEX ${quote(uniqueIndexName(table, set))} ON ${quote(table.name)} (${set.map(quote).join(', ')})`,
    )
  return statements
}

export function tableSql(table: Table): string {
  const columns = ['"id" INTEGER PRIMARY KEY', ...table.fields.map(columnSql)]
  return `CREATE TABLE ${quote(table.name)} (\n  ${columns.join(',\n  ')}\n) STRICT`
}
