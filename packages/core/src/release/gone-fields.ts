import type { Files, ImportPlan } from '@patient-hook/contract'
import { hookOfPath } from '@patient-hook/contract/paths'
import { hookUses } from '../findings/uses.js'
import type { Table } from '../model/types.js'
import { treeOf } from '../syntax-tree.js'

/** Tables and fields that hooks read or write, and that are not there. */

/** @param wanted which plugins' hooks are looked at */
export function missingFields(
  files: Files,
  tables: ReadonlyMap<string, Table>,
  wanted: (plugin: string) => boolean,
): ImportPlan['needs'] {
  return Object.entries(files).flatMap(([path, text]) => {
    const { plugin, hook } = hookOfPath(path) ?? { plugin: '', hook: '' }
    if (plugin === '' || !wanted(plugin)) return []
    const { table, uses } = hookUses(treeOf(path, text))
    const missing = new Map<string, ImportPlan['needs'][number]>()
    const note = (name: string, field: string | null) => {
      const fields = tables.get(name)?.fields
      if (!fields) missing.set(name, { hook, table: name, field: null })
      else if (field !== null && field !== 'id' && fields.every((each) => each.name !== field))
        missing.set(`${name}.${field}`, { hook, table: name, field })
    }
    if (table !== null) note(table, null)
    for (const use of uses) note(use.table, use.field)
    return [...missing.values()]
  })
}

/** In words, such as `mark uses item.name`. */
export const neededWord = ({ hook, table, field }: ImportPlan['needs'][number]): string =>
  field === null ? `${hook} uses table ${table}` : `${hook} uses ${table}.${field}`
