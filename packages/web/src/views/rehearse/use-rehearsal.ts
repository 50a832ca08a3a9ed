import type { ErrorReport, FullRecord, InputRow, Rehearsal, Table, Value } from '@patient-hook/contract'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import { ApiError, api, type TriedGround } from '../../lib/api'
import { useDrafts } from '../../stores/drafts'
import { useProject } from '../../stores/project'

/** What is rehearsed: rows of one save, on a fixture set or the live records; and its latest run. */

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

const PAUSE_MS = 150
let lastKey = 0

export function useRehearsal() {
  const project = useProject()
  const drafts = useDrafts()
  const first = project.info?.fixtures[0]?.name
  const ground = ref<TriedGround>(first === undefined ? {} : { fixtures: first })
  const clock = ref('')
  const partial = ref(false)
  const rows = ref<RowDraft[]>([])
  const run = shallowRef<Rehearsal | null>(null)
  const error = shallowRef<ErrorReport | null>(null)
  const busy = ref(false)
  let going: AbortController | null = null

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

  function takeOut(key: number): void {
    rows.value = rows.value
      .filter((row) => row.key !== key)
      .map((row) => ({ ...row, refs: Object.fromEntries(Object.entries(row.refs).filter(([, to]) => to !== key)) }))
  }

  /** Only what differs from the stored record is typed, so that hooks see what a user would have changed. */
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

  const asked = computed(() => ({
    rows: rows.value.map(inputOf),
    user: project.user,
    ...(clock.value.trim() === '' ? {} : { clock: clock.value.trim() }),
    ...(partial.value && rows.value.length > 1 ? { partial: true } : {}),
    ...ground.value,
    ...(drafts.changed.length > 0 ? { drafts: drafts.drafts } : {}),
  }))

  async function rehearse(): Promise<void> {
    going?.abort()
    if (rows.value.length === 0) {
      run.value = null
      error.value = null
      return
    }
    const mine = (going = new AbortController())
    busy.value = true
    try {
      run.value = await api.run({ ...asked.value, recorded: true }, mine.signal)
      error.value = null
    } catch (thrown) {
      if (thrown instanceof ApiError) {
        error.value = thrown.report
        run.value = null
      } else if ((thrown as Error).name !== 'AbortError') throw thrown
    } finally {
      if (going === mine) busy.value = false
    }
  }
  watchDebounced(() => JSON.stringify(asked.value), rehearse, { debounce: PAUSE_MS, immediate: true })

  /** Other records are there: what was chosen of the ones before is not. */
  function changeGround(to: TriedGround): void {
    ground.value = to
    rows.value = []
  }

  /** A save that was kept, on the records as they stood before it. @throws ApiError where they are out of reach */
  async function openSave(number: number): Promise<void> {
    const given = await api.givenSave(number)
    changeGround({ before: given.save })
    clock.value = given.at
    partial.value = given.partial
    project.user = given.user
    const keys = new Map<string, number>()
    for (const row of given.rows) {
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
  return { ground, clock, partial, rows, run, error, busy, asked, addNew, add, takeOut, rehearse, changeGround, openSave }
}

export type RehearsalState = ReturnType<typeof useRehearsal>
