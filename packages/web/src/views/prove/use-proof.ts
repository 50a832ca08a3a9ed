import type { JobInfo, JobKind, JobResult } from '@patient-hook/contract'
import { useSessionStorage } from '@vueuse/core'
import { computed, shallowRef, watch } from 'vue'
import { api } from '../../lib/api'
import { useJob } from '../../lib/use-job'
import { useDrafts } from '../../stores/drafts'
import { useProject } from '../../stores/project'
import { keyOf } from './proofs'

/** A proof of one kind of the code in the editor, and whether what is shown was measured on that code. */
function useProofOf<K extends JobKind>(
  kind: K,
  keysOf: (result: JobResult<K>) => string,
  start: (hooks?: string[]) => Promise<JobInfo>,
) {
  const project = useProject()
  const drafts = useDrafts()
  const job = useJob(kind)
  const now = computed(() => `${project.info?.revision ?? ''} ${JSON.stringify(drafts.drafts)}`)
  /** What stood in the editor when the job was begun. */
  const measured = useSessionStorage(`patient-hook:${kind}-of`, '')
  const isStale = computed(() => job.results.value !== null && measured.value !== now.value)

  /** Of an earlier proof of the same code: one hook proved anew leaves the others as they were. */
  const kept = shallowRef<readonly JobResult<K>[]>([])
  const results = computed(() => {
    const fresh = job.results.value ?? []
    const keys = new Set(fresh.map(keysOf))
    return [...kept.value.filter((each) => !keys.has(keysOf(each))), ...fresh]
  })
  watch(isStale, (stale) => {
    if (stale) kept.value = []
  })

  async function prove(hooks?: string[]): Promise<void> {
    kept.value = hooks && !isStale.value ? results.value : []
    measured.value = now.value
    await job.begin(() => start(hooks))
  }
  return { ...job, results, isStale, prove }
}

/** The bulk proof. */
export function useBulkProof() {
  const drafts = useDrafts()
  return useProofOf(
    'bulk',
    (each) => `${keyOf(each)} ${each.property}`,
    (hooks) => api.proveBulk(drafts.drafts, hooks),
  )
}

/** Small mistakes in hooks, tried on the unit tests. */
export function useMutants() {
  const drafts = useDrafts()
  return useProofOf(
    'mutation',
    ({ hook }) => hook,
    (hooks) => api.proveMutants(drafts.drafts, hooks),
  )
}
