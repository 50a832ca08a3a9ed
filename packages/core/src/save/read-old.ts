import type { Table } from '../model/types.js'
import { readByIds } from '../store/records.js'
import { shapeOf, shapeOfFields } from '../store/shape.js'
import type { LevelInput } from './level-input.js'
import type { OldRecords } from './old-records.js'
import { doubtsAboutOthers } from './quiet.js'
import type { Session } from './session.js'

/** The records that rows change, copy or remove, as they stand: read in one query for each table, and no more of them than anything looks at. */

export function readOld(session: Session, table: Table, inputs: readonly LevelInput[]): OldRecords {
  const ids: number[] = []
  for (const input of inputs) {
    const id = input.copyOf ?? input.id ?? input.values?.['id']
    if (typeof id === 'number') ids.push(id)
  }
  const shape = shapeOf(table)
  if (ids.length === 0) return { shape, stored: new Map() }
  return readFew(session, table, inputs, ids) ?? { shape, stored: readByIds(session.store, shape, ids) }
}

/**
 * Only what the rows set and hooks can touch, as their syntax trees prove, where nobody is reported about more.
 * @returns null where more has to be read, or where a record may hold what checks refuse in another field
 */
function readFew(session: Session, table: Table, inputs: readonly LevelInput[], ids: readonly number[]): OldRecords | null {
  const { options, program, touches } = session
  if (options.record || options.recorder || options.backfill || touches.concern(table.name)) return null
  const touched = program.touchedByUpdates(table.name)
  const written = program.written(table.name, true)
  if (!touched || !written) return null
  const changed = fieldsSet(inputs)
  if (!changed) return null
  for (const name of written) changed.add(name)
  const known = new Set(table.fields.map(({ name }) => name))
  if ([...changed].some((name) => !known.has(name) || isCompared(table, name))) return null
  const wanted = new Set([...changed, ...touched])
  // Patterns and multiples are not told in SQL.
  for (const { name, pattern, multipleOf } of table.fields) if (pattern !== null || multipleOf !== null) wanted.add(name)
  const others = doubtsAboutOthers(
    table,
    table.fields.filter(({ name }) => wanted.has(name)),
  )
  const shape = shapeOfFields(table, wanted)
  const stored = readByIds(session.store, shape, ids, others)
  return stored && { shape, stored }
}

/** Fields that the rows set; null where one of them does not change a record that is there, or is held against it. */
function fieldsSet(inputs: readonly LevelInput[]): Set<string> | null {
  const names = new Set<string>()
  for (const { id, values, fresh, remove, copyOf, expect } of inputs) {
    if (fresh !== undefined || remove || copyOf !== undefined || expect) return null
    if (id === undefined && values?.['id'] === undefined) return null
    for (const name in values) if (name !== 'id' && !names.has(name)) names.add(name)
  }
  return names
}

/** Is the field compared between records? */
const isCompared = ({ fields, uniqueSets }: Table, name: string): boolean =>
  fields.some((field) => field.unique && field.name === name) || uniqueSets.some((set) => set.includes(name))
