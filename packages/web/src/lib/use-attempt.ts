import { computed, ref, shallowRef } from 'vue'
import { ApiError } from './api'

/** Asks the application for something: busy meanwhile, and what it refuses is shown and not thrown. */
export function useAttempt() {
  const error = shallowRef<ApiError | null>(null)
  const going = ref(0)
  const busy = computed(() => going.value > 0)

  /** @returns what the work gives; undefined where the application refused it */
  async function attempt<T>(work: () => Promise<T>): Promise<T | undefined> {
    going.value++
    try {
      const done = await work()
      error.value = null
      return done
    } catch (thrown) {
      if (!(thrown instanceof ApiError)) throw thrown
      error.value = thrown
      return undefined
    } finally {
      going.value--
    }
  }
  return { error, busy, attempt }
}
