import type { ErrorReport, Rehearsal } from '@patient-hook/contract'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import { useDocument } from '../../components/document/use-document'
import { ApiError, api, type TriedGround } from '../../lib/api'
import { useDrafts } from '../../stores/drafts'
import { useProject } from '../../stores/project'

/** What is rehearsed: rows of one save, on a fixture set or the live records; and its latest run. */

const PAUSE_MS = 150

export function useRehearsal() {
  const project = useProject()
  const drafts = useDrafts()
  const first = project.info?.fixtures[0]?.name
  const ground = ref<TriedGround>(first === undefined ? {} : { fixtures: first })
  const clock = ref('')
  const partial = ref(false)
  const document = useDocument(ground)
  const { rows, inputs } = document
  const run = shallowRef<Rehearsal | null>(null)
  const error = shallowRef<ErrorReport | null>(null)
  const busy = ref(false)
  let going: AbortController | null = null

  const asked = computed(() => ({
    rows: inputs.value,
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

  /** A save that was kept, on the records as they were before it. @throws ApiError where they are out of reach */
  async function openSave(number: number): Promise<void> {
    const given = await api.givenSave(number)
    changeGround({ before: given.save })
    clock.value = given.at
    partial.value = given.partial
    project.user = given.user
    await document.take(given.rows)
  }
  return { document, ground, clock, partial, rows, run, error, busy, asked, rehearse, changeGround, openSave }
}

export type RehearsalState = ReturnType<typeof useRehearsal>
