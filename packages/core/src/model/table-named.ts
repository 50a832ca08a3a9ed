import { HookError } from '../errors.js'
import { hintFor } from './names.js'
import type { Table } from './types.js'

/** @throws HookError project/unknown-table, with a hint where the name is nearly one that there is */
export function tableNamed(tables: ReadonlyMap<string, Table>, name: string): Table {
  const table = tables.get(name)
  if (!table) throw new HookError('project/unknown-table', { table: name, hint: hintFor(String(name), tables.keys()) })
  return table
}
