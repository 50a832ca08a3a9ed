import type { Budget, BulkPropertyName, GateRuleName, HookState, RecordValues, Table } from '@patient-hook/contract'

/** The model: what a project consists of, once its files have been read and found right. */

export { BUDGETS } from '@patient-hook/contract/limits'
export type {
  Budget,
  Field,
  FieldType,
  HookState,
  OnDelete,
  RecordValues,
  Spent,
  Table,
  Value,
  Values,
} from '@patient-hook/contract'

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

export interface HookFile {
  /** The name of the file without `.ts`; unique in the project. */
  name: string
  plugin: string
  file: string
  state: HookState
  /** Properties of the bulk proof that need not hold, each with the reason. */
  accepts: Readonly<Partial<Record<BulkPropertyName, string>>>
  /** Mutations that no test need notice, each with the reason, by `mistakeName`. */
  misses: Readonly<Record<string, string>>
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

/** A number is the least coverage in per cent. */
export type GateSettings = Partial<Record<GateRuleName, boolean | number>>

export interface Project {
  name: string
  title: string
  users: readonly User[]
  sequences: ReadonlyMap<string, Sequence>
  budgets: Partial<Record<Budget, number>>
  /** Rules of a release's gate that are turned off, or on in a special way; default: all hold. */
  gate: GateSettings
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
