import type { HookInfo } from '@patient-hook/contract'
import { KeptOnDisk } from '../disk/kept-on-disk.js'
import { hookUses } from './uses.js'
import { treeOf } from '../syntax-tree.js'

/** Which fields a hook reads and writes, for those who only want their names: computed once for a text, kept on disk. */

export type HookFields = Pick<HookInfo, 'reads' | 'writes' | 'uses'>

const kept = new KeptOnDisk<HookFields>('hook-fields')
const known = new Map<string, { text: string; fields: HookFields }>()

/** @param table that the hook is for: `reads` and `writes` are of it, `uses` of all */
export function fieldsOf(file: string, text: string, table: string): HookFields {
  const name = `${file}\0${table}`
  const before = known.get(name)
  if (before?.text === text) return before.fields
  const readBefore = kept.read(name, text)
  const fields = readBefore ?? workedOut(file, text, table)
  if (!readBefore) kept.write(name, text, fields)
  known.set(name, { text, fields })
  return fields
}

/** Another engine found them. */
export function noteFields(file: string, text: string, table: string, fields: HookFields): void {
  known.set(`${file}\0${table}`, { text, fields })
}

function workedOut(file: string, text: string, table: string): HookFields {
  const all = hookUses(treeOf(file, text)).uses
  const own = (kind: 'read' | 'write') => [
    ...new Set(all.filter((use) => use.kind === kind && use.table === table && use.of !== 'other').map((use) => use.field)),
  ]
  const byField = new Map(all.map(({ table: of, field, kind }) => [`${of}.${field} ${kind}`, { table: of, field, kind }]))
  return { reads: own('read'), writes: own('write'), uses: [...byField.values()] }
}
