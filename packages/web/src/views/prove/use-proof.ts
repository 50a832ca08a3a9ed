import type { BulkVerdict } from '@patient-hook/contract'
import { useSessionStorage } from '@vueuse/core'
import { computed, shallowRef, watch } from 'vue'
import { api } from '../../lib/api'
import { useJob } from '../../lib/use-job'
import { useDrafts } from '../../stores/drafts'
import { useProject } from '../../stores/project'
import { keyOf } from './proofs'

/** The bulk proof of the code in the editor, and whether what is shown was measured on that code. */
export function useProof() {
  const project = useProject()
  const drafts = useDrafts()
  const job = useJob('bulk')
  const now = computed(() => `${project.info?.revision ?? ''} ${JSON.stringify(drafts.drafts)}`)
  /** What stood in the editor when the job was begun. */
  const measured = useSessionStorage('patient-hook:bulk-of', '')
  const isStale = computed(() => job.results.value !== null && measured.value !== now.value)

  /** Of an earlier proof of the same code: one hook proved anew leaves the others as they were. */
  const kept = shallowRef<readonly BulkVerdict[]>([])
  const verdicts = computed(() => {
    const fresh = job.results.value ?? []
    const keys = new Set(fresh.map((each) => `${keyOf(each)} ${each.property}`))
    return [...kept.value.filter((each) => !keys.has(`${keyOf(each)} ${each.property}`)), ...fresh]
  })
  watch(isStale, (stale) => {
    if (stale) kept.value = []
  })

  async function prove(hooks?: string[]): Promise<void> {
    kept.value = hooks && !isStale.value ? verdicts.value : []
    measured.value = now.value
    await job.begin(() => api.proveBulk(drafts.drafts, hooks))
  }
  return { ...job, verdicts, isStale, prove }
}
