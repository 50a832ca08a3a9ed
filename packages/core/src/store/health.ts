import { HookError } from '../errors.js'
import type { Project } from '../model/types.js'
import type { Store } from './database.js'

/** Is the file what the project takes it for? Asked once, when it is opened. */

/** @throws HookError store/damaged where a page cannot be read, store/mismatch where a column is missing */
export function checkHealth(store: Store, project: Project | null): void {
  const { file } = store
  let said: unknown
  try {
    said = store.db.pragma('quick_check(1)', { simple: true })
  } catch (error) {
    throw store.toHookError(error)
  }
  if (said !== 'ok') throw new HookError('store/damaged', { file, reason: String(said) })
  for (const table of project?.tables.values() ?? []) {
    const columns = new Set(store.values('SELECT name FROM pragma_table_info(?)', table.name) as string[])
    if (columns.size === 0)
      throw new HookError('store/mismatch', { file, reason: `it has no table ${table.name}`, table: table.name })
    for (const { name } of table.fields)
      if (!columns.has(name))
        throw new HookError('store/mismatch', {
          file,
          reason: `its table ${table.name} has no column ${name}`,
          table: table.name,
          field: name,
        })
  }
}
