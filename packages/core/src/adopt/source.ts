/** Data of another program, as it is read: tables with what is known of their columns, and their rows. */

export type SourceValue = string | number | bigint | boolean | Uint8Array | null

export interface SourceColumn {
  name: string
  /** The type that it was declared with, such as `VARCHAR(20)`; '' where there is none. */
  declared: string
  required: boolean
  default: string | number | boolean | null
  choices: readonly string[] | null
  minimum: number | null
  maximum: number | null
}

export interface SourceLink {
  column: string
  /** The table that it leads to, by its name in the source. */
  table: string
  /** The column there that holds the same value; null: its key. */
  to: string | null
  onDelete: 'refuse' | 'clear' | 'cascade'
}

export interface SourceTable {
  name: string
  columns: readonly SourceColumn[]
  /** Whole numbers that name each row; null where there are none. */
  idColumn: string | null
  /** Columns whose values are unique, alone or together. */
  unique: readonly (readonly string[])[]
  indexed: readonly string[]
  links: readonly SourceLink[]
  /** In the order of the columns. */
  rows: readonly (readonly SourceValue[])[]
}

/** Something that becomes another thing, or nothing, in the project. */
export interface AdoptionNote {
  /** A table of the source, or what else it is about. */
  about: string
  column: string | null
  detail: string
}

export interface Source {
  tables: readonly SourceTable[]
  notes: readonly AdoptionNote[]
}

export const plainColumn = (name: string): SourceColumn => ({
  name,
  declared: '',
  required: false,
  default: null,
  choices: null,
  minimum: null,
  maximum: null,
})
