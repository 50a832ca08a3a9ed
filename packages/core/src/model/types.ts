/** The model: what a project consists of, once its files have been read and found right. */

export type FieldType = 'string' | 'integer' | 'number' | 'boolean'
/** What a field holds: a JSON value of one of the four types, or null when it has none. */
export type Value = string | number | boolean | null
export type Values = Record<string, Value>
/** A record as stored: `id` and every field of its table. */
export type RecordValues = Values & { id: number }
export type OnDelete = 'refuse' | 'clear' | 'cascade'

export interface Field {
  name: string
  /** What people call it (`title` of the JSON Schema). */
  label: string
  help: string
  type: FieldType
  format: 'date' | 'date-time' | null
  enum: readonly (string | number)[] | null
  required: boolean
  link: { table: string; onDelete: OnDelete } | null
  unique: boolean
  index: boolean
  minimum: number | null
  maximum: number | null
  exclusiveMinimum: number | null
  exclusiveMaximum: number | null
  multipleOf: number | null
  minLength: number | null
  maxLength: number | null
  pattern: string | null
}

export interface Table {
  name: string
  label: string
  help: string
  /** In the order of the file, without `id`. */
  fields: readonly Field[]
  /** Sets of fields that are unique together. */
  uniqueSets: readonly (readonly string[])[]
  file: string
}

export interface Sequence {
  name: string
  prefix: string
  /** The least number of digits, padded with zeros; longer numbers keep all theirs. */
  digits: number
  start: number
}

export interface User {
  name: string
  title: string
}

export const BUDGETS = ['queries', 'rowsRead', 'rowsWritten', 'steps', 'ripples', 'ms'] as const
export type Budget = (typeof BUDGETS)[number]
/** What a save spent: counts, and milliseconds. `ripples` is the greatest depth that was reached. */
export type Spent = Record<Budget, number>

/** How a hook is released: on for all, for some users only, or not at all. */
export type HookState = { state: 'live' } | { state: 'pilot'; users: readonly string[] } | { state: 'off' }

export interface HookFile {
  /** The name of the file without `.ts`; unique in the project. */
  name: string
  plugin: string
  file: string
  state: HookState
}

export interface Plugin {
  name: string
  version: string
  description: string
  hooks: readonly HookFile[]
  /** Paths of library modules and tests, from the project's root. */
  lib: readonly string[]
  tests: readonly string[]
}

export interface Project {
  name: string
  title: string
  users: readonly User[]
  sequences: ReadonlyMap<string, Sequence>
  budgets: Partial<Record<Budget, number>>
  /** Rows per batch; a count. */
  batchSize: number
  tables: ReadonlyMap<string, Table>
  plugins: ReadonlyMap<string, Plugin>
  /** Fixture sets: set, then table, then records. */
  fixtures: ReadonlyMap<string, ReadonlyMap<string, readonly RecordValues[]>>
  /** Records a new database starts with. */
  data: ReadonlyMap<string, readonly RecordValues[]>
  /** Every file of the project, path from the root to text. */
  files: ReadonlyMap<string, string>
}
