import type { FullRecord, InputRow, Table, Value } from '@patient-hook/contract'
import { computed, ref, type Ref } from 'vue'
import { api, type TriedGround } from '../../lib/api'
import { useProject } from '../../stores/project'

/** The rows of one save as they are typed: new records, changes, copies, removals; a header with its lines. */

export interface RowDraft {
  key: number
  table: string
  mode: 'new' | 'update' | 'copy' | 'remove'
  /** The record that is changed, copied or removed; null for a new one. */
  id: number | null
  /** As it is stored. */
  stored: FullRecord | null
  values: Record<string, Value>
  /** By link field: the draft that it links to, a new record of the same save. */
  refs: Record<string, number>
}

/** Lines of a record that are imported at once. */
const MOST_LINES = 50
let lastKey = 0

/** @param ground where the records stand that are changed */
export function useDocument(ground: Ref<TriedGround>) {
  const project = useProject()
  const rows = ref<RowDraft[]>([])

  const empty = (table: Table) => Object.fromEntries(table.fields.map((field) => [field.name, null as Value]))

  function addNew(table: Table, link?: { field: string; to: RowDraft }): void {
    const row: RowDraft = {
      key: ++lastKey,
      table: table.name,
      mode: 'new',
      id: null,
      stored: null,
      values: empty(table),
      refs: {},
    }
    if (link?.to.mode === 'new') row.refs[link.field] = link.to.key
    else if (link) row.values[link.field] = link.to.id
    rows.value = [...rows.value, row]
  }

  /** @throws ApiError where the record is not there */
  async function add(table: Table, id: number, mode: RowDraft['mode'] = 'update'): Promise<void> {
    if (mode === 'update' && rows.value.some((row) => row.table === table.name && row.id === id && row.mode !== 'copy')) return
    const stored = await api.record(table.name, id, ground.value)
    const values = Object.fromEntries(table.fields.map((field) => [field.name, stored.record[field.name] ?? null]))
    rows.value = [...rows.value, { key: ++lastKey, table: table.name, mode, id, stored, values, refs: {} }]
  }

  /** The records of a table that link to this one. @throws ApiError */
  async function addLines(row: RowDraft, table: Table, field: string): Promise<void> {
    const where = JSON.stringify({ [field]: row.id })
    const { records } = await api.records(table.name, { where, limit: MOST_LINES, ...ground.value })
    for (const record of records) await add(table, record.id)
  }

  function takeOut(key: number): void {
    rows.value = rows.value
      .filter((row) => row.key !== key)
      .map((row) => ({ ...row, refs: Object.fromEntries(Object.entries(row.refs).filter(([, to]) => to !== key)) }))
  }
  const change = (key: number, to: Partial<RowDraft>) =>
    (rows.value = rows.value.map((row) => (row.key === key ? { ...row, ...to } : row)))

  /** Only the differences from the stored record is typed, so that hooks see what a user would have changed. */
  function inputOf(row: RowDraft): InputRow {
    const { table, mode, id, stored } = row
    if (mode === 'remove') return { table, id: id!, values: {}, remove: true }
    const typed = Object.entries(row.values).filter(([name, value]) => value !== (stored?.record[name] ?? null))
    const refs = Object.entries(row.refs).map(([field, to]) => [field, { ref: `row-${to}` }])
    const values = Object.fromEntries([...typed, ...refs]) as InputRow['values']
    if (mode === 'copy') return { table, copyOf: id!, values }
    const isAimed = rows.value.some((each) => Object.values(each.refs).includes(row.key))
    return { table, values, ...(mode === 'update' ? { id: id! } : {}), ...(isAimed ? { as: `row-${row.key}` } : {}) }
  }
  const inputs = computed(() => rows.value.map(inputOf))

  /** The same, refused where somebody else has changed since what is typed over here. */
  function expecting(input: InputRow): InputRow {
    const row = rows.value[inputs.value.indexOf(input)]
    if (!row?.stored || (row.mode !== 'update' && row.mode !== 'remove')) return input
    const { record } = row.stored
    const names = row.mode === 'remove' ? Object.keys(row.values) : Object.keys(input.values ?? {})
    return { ...input, expect: Object.fromEntries(names.map((name) => [name, record[name] ?? null])) }
  }

  /** Reads the records again as they are stored now; what was typed stays typed. @throws ApiError */
  async function refresh(): Promise<void> {
    const fresh = await Promise.all(
      rows.value.map(async (row): Promise<RowDraft> => {
        const { stored: before, table, id } = row
        if (!before || id === null) return row
        const stored = await api.record(table, id, ground.value)
        const values = Object.fromEntries(
          Object.entries(row.values).map(([name, value]) => {
            const isTyped = value !== (before.record[name] ?? null)
            return [name, isTyped ? value : (stored.record[name] ?? null)]
          }),
        )
        return { ...row, stored, values }
      }),
    )
    rows.value = fresh
  }

  /** Rows as a save was given them. @throws ApiError where a record is not there */
  async function take(given: readonly InputRow[]): Promise<void> {
    rows.value = []
    const keys = new Map<string, number>()
    for (const row of given) {
      const table = project.table(row.table)
      if (!table) continue
      const { id: named, ...typed } = row.values ?? {}
      const id = row.copyOf ?? row.id ?? (named as number | undefined)
      if (id === undefined) addNew(table)
      else await add(table, id, row.remove ? 'remove' : row.copyOf === undefined ? 'update' : 'copy')
      const draft = rows.value.at(-1)!
      if (row.as !== undefined) keys.set(row.as, draft.key)
      for (const [field, value] of Object.entries(typed))
        if (value !== null && typeof value === 'object') {
          const to = keys.get(value.ref)
          if (to !== undefined) draft.refs[field] = to
        } else draft.values[field] = value ?? null
    }
    rows.value = [...rows.value]
  }
  return { rows, inputs, expecting, refresh, addNew, add, addLines, takeOut, change, take }
}

export type DocumentState = ReturnType<typeof useDocument>
