import type { ModelEdit, ModelPlan, Table, TableEdit, Value } from '@patient-hook/contract'
import { useRefHistory, useSessionStorage, watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import { encodingProblem } from '@patient-hook/core/encoding'
import { editOf, revisionOf } from '@patient-hook/core/table-edit'
import { ApiError, api } from '../../lib/api'
import { useProject } from '../../stores/project'

/** One table on the workbench: its edit with undo, what the change would do, and doing it. Kept over a reload. */

interface Workpiece {
  /** The table's name; null for one that does not exist yet. */
  of: string | null
  edit: TableEdit
  fills: Record<string, Value>
  /** The revision of the table that the edit began with; null for a new one. */
  from: string | null
  /** Where its first records come from. */
  records: NonNullable<ModelEdit['records']> | null
}

/** The browser would read bytes that are no UTF-8 as something else without a word. @throws ApiError with the byte */
async function textOf(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  const problem = encodingProblem(bytes)
  if (problem !== null)
    throw new ApiError({
      code: 'project/bad-encoding',
      message: `${file.name} cannot be read: ${problem}`,
      todo: 'Save the file as UTF-8.',
    })
  return new TextDecoder().decode(bytes)
}

const PAUSE_MS = 350
const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

export function useTableEdit() {
  const project = useProject()
  const work = useSessionStorage<Workpiece | null>('patient-hook:table-edit', null, {
    serializer: { read: (text) => JSON.parse(text) as Workpiece | null, write: (value) => JSON.stringify(value) },
  })
  const { undo, redo, canUndo, canRedo, clear } = useRefHistory(work, { deep: true, capacity: 200 })
  const plan = shallowRef<ModelPlan | null>(null)
  const error = shallowRef<ApiError | null>(null)
  const busy = ref(false)
  const accepted = ref(false)
  let going: AbortController | null = null

  const asked = computed((): ModelEdit | null => {
    if (!work.value) return null
    const { of, edit, fills, from, records } = work.value
    return { table: of ?? edit.name, edit, fills, from, ...(records ? { records } : {}) }
  })

  function begin(piece: Workpiece): void {
    work.value = plain(piece)
    plan.value = null
    error.value = null
    accepted.value = false
    clear()
  }
  const change = (table: Table) =>
    begin({ of: table.name, edit: editOf(table), fills: {}, from: revisionOf(table), records: null })
  const make = (edit: TableEdit, records: Workpiece['records'] = null) =>
    begin({ of: null, edit, fills: {}, from: null, records })
  function stop(): void {
    work.value = null
    plan.value = null
    error.value = null
    clear()
  }

  async function attempt<T>(run: () => Promise<T>): Promise<T | null> {
    try {
      const done = await run()
      error.value = null
      return done
    } catch (thrown) {
      if ((thrown as Error).name === 'AbortError') return null
      if (!(thrown instanceof ApiError)) throw thrown
      error.value = thrown
      return null
    }
  }

  async function look(): Promise<void> {
    const edit = asked.value
    going?.abort()
    if (!edit) return
    const mine = (going = new AbortController())
    busy.value = true
    accepted.value = false
    // The records first; what it means for the code takes longer.
    for (const code of [false, true]) {
      const planned = await attempt(() => api.planModel(edit, code, mine.signal))
      if (going !== mine) return
      plan.value = planned
      if (!planned) break
    }
    busy.value = false
  }
  watchDebounced(asked, look, { debounce: PAUSE_MS, deep: true, immediate: true })

  /** @returns the table's name once it is done */
  async function apply(): Promise<string | null> {
    const edit = asked.value
    if (!edit) return null
    busy.value = true
    const change = await attempt(() => api.changeModel(edit, accepted.value, project.user))
    busy.value = false
    if (!change) return null
    await project.take(change)
    stop()
    return edit.table
  }

  /** The revision that a removal was planned for. */
  let removalOf: string | null = null
  const planRemoval = async (table: string) => {
    const planned = await attempt(() => api.planModel({ table, edit: null }, true))
    removalOf = planned?.revision ?? null
    return planned?.steps ?? null
  }

  async function remove(table: string): Promise<boolean> {
    const change = await attempt(() => api.changeModel({ table, edit: null, from: removalOf }, true, project.user))
    if (change) await project.take(change)
    return change !== null
  }

  /** Reads a table out of a CSV file or a JSON Schema, to be corrected before it is made. */
  async function importFile(file: File): Promise<boolean> {
    const text = await attempt(() => textOf(file))
    if (text === null) return false
    const name = file.name
      .replace(/\.\w+$/, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^[^a-z]+|_+$/g, '')
    const table = name === '' ? 'imported' : name
    if (/\.json$/i.test(file.name)) {
      const edit = await attempt(() => api.readSchema(table, file.name, text))
      if (edit) make(edit)
      return edit !== null
    }
    const inferred = await attempt(() => api.inferTable(table, file.name, text))
    if (inferred) make(inferred.edit, { file: file.name, text, columns: inferred.columns })
    return inferred !== null
  }

  return {
    work,
    plan,
    error,
    busy,
    accepted,
    undo,
    redo,
    canUndo,
    canRedo,
    change,
    make,
    stop,
    apply,
    planRemoval,
    remove,
    importFile,
  }
}
