import { ref } from 'vue'
import { api } from '../../lib/api'
import { useJob } from '../../lib/use-job'
import { useDrafts } from '../../stores/drafts'

/** A run of unit tests, with the texts as edited. */
export function useTests() {
  const drafts = useDrafts()
  const { begin, ...job } = useJob('tests')
  /** Only tests of which file or name contain it; empty: all. */
  const filter = ref('')
  /** Only tests that a change of the open hook may concern, of any plugin. */
  const narrow = ref(false)
  /**
   * @param tests the files that run
   * @param changed files of which a change may concern tests, where only these are asked for
   */
  const run = (tests: string[], changed: string[]) =>
    begin(() =>
      api.runTests({
        drafts: drafts.drafts,
        ...(narrow.value ? { changed } : { only: tests }),
        ...(filter.value === '' ? {} : { filter: filter.value }),
      }),
    )
  return { ...job, filter, narrow, run }
}
