import type { HookInfo, Sheet, Table } from '@patient-hook/contract'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { ApiError, api } from '../../lib/api'
import { useDrafts } from '../../stores/drafts'
import { useProject } from '../../stores/project'

/** What the sheet rehearses, and its latest answer. Runs again on each pause in typing. */

export interface Scenario {
  /** A fixture set, or the live records. */
  fixtures: string | null
  event: 'create' | 'update' | 'delete'
  /** For update: the field that is pretended to change in every row. */
  field: string
}

/** How long typing has to rest before a sheet is asked for, in milliseconds; the first key begins one at once, and while one is being made, which would be given up, the next waits. */
const PAUSE_MS = 0
const PAUSE_WHILE_BUSY_MS = 70

export function useSheet(hook: Ref<HookInfo | undefined>, table: Ref<Table | undefined>) {
  const project = useProject()
  const drafts = useDrafts()
  const scenario = ref<Scenario>({ fixtures: null, event: 'create', field: '' })
  const sheet = shallowRef<Sheet | null>(null)
  const error = shallowRef<ApiError | null>(null)
  const busy = ref(false)
  /** Values of all fields are looked at, not only of those that the hook or anything else touches. */
  const allFields = ref(false)
  /** The row whose values are shown beside the code; null for the first. */
  const focus = ref<number | null>(null)
  let going: AbortController | null = null

  /** A scenario in which the hook would run. */
  function fit(): void {
    const [first] = project.info?.fixtures ?? []
    const kept = project.info?.fixtures.some((set) => set.name === scenario.value.fixtures)
    const on = hook.value?.on ?? []
    scenario.value = {
      fixtures: kept ? scenario.value.fixtures : (first?.name ?? null),
      event: on.includes('create') ? 'create' : (on[0] ?? 'create'),
      field: hook.value?.watch[0] ?? table.value?.fields[0]?.name ?? '',
    }
    focus.value = null
  }
  // A hook that wakes for other records than before is shown with those.
  watch(() => [hook.value?.name, hook.value?.table, hook.value?.on.join()].join(' '), fit, { immediate: true })

  /** Asked for while drafts were on their way to be kept: one sheet of what they came to is enough. */
  let waiting = false

  async function run(): Promise<void> {
    if (!table.value || !hook.value) return
    waiting = drafts.keeping
    if (waiting) return
    going?.abort()
    const mine = (going = new AbortController())
    busy.value = true
    const { fixtures, event, field } = scenario.value
    try {
      sheet.value = await api.sheet(
        {
          table: table.value.name,
          event,
          touch: event === 'update' && field !== '' ? [field] : undefined,
          leaveOut: event === 'create' ? hook.value.writes.filter((name) => !hook.value!.watch.includes(name)) : undefined,
          fixtures: fixtures ?? undefined,
          drafts: drafts.drafts,
          focus: focus.value ?? undefined,
          show: allFields.value ? undefined : hook.value.watch,
          user: project.user,
        },
        mine.signal,
      )
      error.value = null
    } catch (thrown) {
      if (thrown instanceof ApiError) error.value = thrown
      else if ((thrown as Error).name !== 'AbortError') throw thrown
    } finally {
      if (going === mine) busy.value = false
    }
  }

  const key = computed(() =>
    JSON.stringify([
      hook.value?.name,
      hook.value?.table,
      scenario.value,
      focus.value,
      allFields.value,
      project.user,
      drafts.drafts,
    ]),
  )
  watchDebounced(key, run, { debounce: () => (busy.value ? PAUSE_WHILE_BUSY_MS : PAUSE_MS), immediate: true })
  // What was kept, here or in a linked folder, is whole: nothing to wait for.
  watch(() => project.version, run)
  watch(
    () => drafts.keeping,
    (keeping) => void (!keeping && waiting && run()),
  )
  return { scenario, focus, allFields, sheet, error, busy, run }
}
