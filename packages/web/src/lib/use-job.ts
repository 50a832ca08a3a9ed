import type { JobInfo, JobKind, JobResult } from '@patient-hook/contract'
import { useSessionStorage } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import { useJobs } from '../stores/jobs'
import { ApiError, api } from './api'

/** A job of one kind: begun, watched, stopped, and found again after the page was loaded again. */
export function useJob<K extends JobKind>(kind: K) {
  const results = shallowRef<readonly JobResult<K>[] | null>(null)
  const job = shallowRef<JobInfo | null>(null)
  const error = shallowRef<ApiError | null>(null)
  const beginning = ref(false)
  const running = computed(() => beginning.value || job.value?.state === 'running')
  /** Of this tab. */
  const known = useSessionStorage<string>(`patient-hook:job:${kind}`, '')
  const jobs = useJobs()
  let stopWatching = () => {}

  function watch(id: string): void {
    stopWatching()
    let collected: JobResult<K>[] = []
    stopWatching = jobs.follow(id, (event) => {
      if (event.event === 'result') collected = [...collected, event.result as JobResult<K>]
      else {
        job.value = event.job
        if (event.event === 'state') collected = [...event.results] as JobResult<K>[]
        if (event.job.error) error.value = new ApiError(event.job.error)
      }
      results.value = collected
    })
  }

  async function attempt(work: () => Promise<void>): Promise<void> {
    try {
      await work()
    } catch (thrown) {
      if (!(thrown instanceof ApiError)) throw thrown
      error.value = thrown
    }
  }

  async function begin(start: () => Promise<JobInfo>): Promise<void> {
    beginning.value = true
    error.value = null
    results.value = []
    await attempt(async () => {
      const begun = await start()
      job.value = begun
      known.value = begun.id
      watch(begun.id)
    })
    beginning.value = false
  }

  async function stop(): Promise<void> {
    const { value } = job
    if (value) await attempt(async () => void (await api.cancelJob(value.id)))
  }

  /** The job that this tab had begun goes on; one that the server has forgotten is forgotten here. */
  async function find(): Promise<void> {
    if (known.value === '') return
    await attempt(async () => {
      const { jobs } = await api.jobs()
      if (jobs.some((each) => each.id === known.value)) watch(known.value)
      else known.value = ''
    })
  }
  void find()
  onScopeDispose(() => stopWatching())
  return { results, job, error, running, begin, stop }
}
