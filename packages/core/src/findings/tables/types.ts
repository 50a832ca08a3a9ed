import type { Field, Table } from '../../model/types.js'
import type { Finding } from '../types.js'

/** What static analysis says of a table: a rule is its own file, with examples that are its tests. */
export interface TableRule {
  meta: { name: string; severity: Finding['severity']; title: string; why: string }
  /** Keywords of a field that pass and that fail. */
  examples: { pass: readonly Record<string, unknown>[]; fail: readonly Record<string, unknown>[] }
  /** @returns what is wrong with the field, and at which keyword; null where nothing is */
  look(field: Field, table: Table): { keyword: string; message: string } | null
}
