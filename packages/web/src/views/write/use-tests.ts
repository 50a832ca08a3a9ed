import { api } from '../../lib/api'
import { useJob } from '../../lib/use-job'
import { useDrafts } from '../../stores/drafts'

/** A run of unit tests, with the texts as they stand in the editor. */
export function useTests() {
  const drafts = useDrafts()
  const { begin, ...job } = useJob('tests')
  /** @param only the test files that run */
  const run = (only: string[]) => begin(() => api.runTests(drafts.drafts, only))
  return { ...job, run }
}
