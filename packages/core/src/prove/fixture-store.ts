import { HookError } from '../errors.js'
import { hintFor } from '../model/names.js'
import { checkRecords } from '../model/record-checks.js'
import { parentsFirst } from '../model/order.js'
import type { Project } from '../model/types.js'
import { Store } from '../store/database.js'
import { loadRecords } from '../store/records.js'

/**
 * A database in memory with the records of a fixture set, or with none. Whoever uses it rolls back what it did.
 * @throws HookError project/unknown-fixtures, or what is wrong with the set's records
 */
export function fixtureStore(project: Project, set: string | undefined): Store {
  const records = set === undefined ? new Map() : project.fixtures.get(set)
  if (!records) throw new HookError('project/unknown-fixtures', { set, hint: hintFor(set!, project.fixtures.keys()) })
  if (set !== undefined) checkRecords(project, [`fixtures/${set}`])
  const store = new Store(':memory:')
  store.createTables(project)
  store.transaction(() => {
    for (const table of parentsFirst(project.tables.values())) loadRecords(store, table, records.get(table.name) ?? [])
    return { value: undefined, keep: true }
  })
  return store
}
