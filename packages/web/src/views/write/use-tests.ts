import type { JobInfo, TestResult } from '@patient-hook/contract'
import { useSessionStorage } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import { ApiError, api } from '../../lib/api'
import { useDrafts } from '../../stores/drafts'

/** A run of unit tests as a job: begun, watched, stopped, and found again after the page was loaded anew. */
export function useTests() {
  const drafts = useDrafts()
  const results = shallowRef<readonly TestResult[] | null>(null)
  const job = shallowRef<JobInfo | null>(null)
  const error = shallowRef<ApiError | null>(null)
  const beginning = ref(false)
  const running = computed(() => beginning.value || job.value?.state === 'running')
  /** Of this tab. */
  const known = useSessionStorage<string>('patient-hook:test-run', '')
  let stopWatching = () => {}

  function watch(id: string): void {
    stopWatching()
    let collected: TestResult[] = []
    stopWatching = api.watchJob(id, (event) => {
      if (event.event === 'result') collected = [...collected, event.result]
      else {
        job.value = event.job
        if (event.event === 'state') collected = [...event.results]
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

  /** @param only the test files that run */
  async function run(only: string[]): Promise<void> {
    beginning.value = true
    error.value = null
    results.value = []
    await attempt(async () => {
      const begun = await api.runTests(drafts.drafts, only)
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

  /** The run that this tab had begun goes on; whoever was forgotten by the server is forgotten here. */
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
  return { results, job, error, running, run, stop }
}
