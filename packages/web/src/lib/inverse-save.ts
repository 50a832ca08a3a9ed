import type { InputRow, SaveStory, Value } from '@patient-hook/contract'

/** A save that restores what another one changed: each row expects the values that the other one left, so a later change is a conflict. */
export interface InverseSave {
  rows: InputRow[]
  /** Records that cannot be restored: they were removed. */
  removed: { table: string; id: number }[]
}

/** @param records as the save wrote them; one that rippled comes more than once */
export function inverseOf(records: SaveStory['records']): InverseSave {
  const merged = new Map<string, { table: string; id: number; event: string; from: Map<string, Value>; to: Map<string, Value> }>()
  for (const { table, id, event, changes } of records) {
    const key = `${table} ${id}`
    const known = merged.get(key) ?? { table, id, event, from: new Map<string, Value>(), to: new Map<string, Value>() }
    if (event === 'delete') known.event = known.event === 'create' ? 'nothing' : 'delete'
    for (const { field, from, to } of changes) {
      if (!known.from.has(field)) known.from.set(field, from as Value)
      known.to.set(field, to as Value)
    }
    merged.set(key, known)
  }
  const all = [...merged.values()]
  const changed = all.flatMap(({ table, id, event, from, to }): InputRow[] => {
    const fields = [...from.keys()].filter((field) => from.get(field) !== to.get(field))
    if (event !== 'update' || fields.length === 0) return []
    const of = (values: Map<string, Value>) => Object.fromEntries(fields.map((field) => [field, values.get(field) ?? null]))
    return [{ table, id, values: of(from), expect: of(to) } as InputRow]
  })
  // What was created last goes first: it may link to what was created before it.
  const created = all.filter(({ event }) => event === 'create').reverse()
  return {
    rows: [
      ...changed,
      ...created.map(({ table, id, to }) => ({ table, id, remove: true, expect: Object.fromEntries(to) }) as InputRow),
    ],
    removed: all.filter(({ event }) => event === 'delete').map(({ table, id }) => ({ table, id })),
  }
}
