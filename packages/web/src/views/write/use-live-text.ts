import { shallowRef, watch, type Ref } from 'vue'
import { ApiError, api } from '../../lib/api'
import { latestOnly } from '../../lib/latest'
import { useReleases } from '../../stores/releases'

/** The text of a file in what everyone gets of its plugin; null where there is none, or while it is not known. */
export function useLiveText(plugin: Ref<string>, file: Ref<string | null>) {
  const releases = useReleases()
  const files = shallowRef<Readonly<Record<string, string>>>({})
  const latest = latestOnly()
  watch(
    () => releases.liveOf(plugin.value)?.id,
    async (id) => {
      files.value = {}
      if (id === undefined) return
      try {
        const answer = await latest(api.releaseFiles(id))
        if (answer) files.value = answer.files
      } catch (thrown) {
        // The gutter stays empty; views that need the release report the error.
        if (!(thrown instanceof ApiError)) throw thrown
      }
    },
    { immediate: true },
  )
  return () => (file.value === null ? null : (files.value[file.value] ?? null))
}
