import { ref, shallowRef, type Ref } from 'vue'
import { language } from '../../language/client'
import { ApiError } from '../../lib/api'
import { useDrafts } from '../../stores/drafts'

/** Saving the files of the tabs: formatted first, then kept all at once as the working copy. */
export function useSaving(files: Ref<readonly string[]>, ready: (file: string) => Promise<void>) {
  const drafts = useDrafts()
  const error = shallowRef<ApiError | null>(null)
  const saving = ref(false)

  async function format(file: string): Promise<void> {
    const before = drafts.textOf(file)
    await ready(file)
    try {
      const text = await language('format', file)
      // Whoever typed on meanwhile keeps what they typed.
      if (drafts.textOf(file) === before) drafts.write(file, text)
    } catch {
      // Code that cannot be parsed is saved as it is, or refused by the server with the place of the error.
    }
  }

  async function save(): Promise<void> {
    const changed = files.value.filter(drafts.hasEdits)
    if (changed.length === 0 || saving.value) return
    saving.value = true
    try {
      await Promise.all(changed.map(format))
      await drafts.save(changed)
      error.value = null
    } catch (thrown) {
      if (!(thrown instanceof ApiError)) throw thrown
      error.value = thrown
    } finally {
      saving.value = false
    }
  }
  return { save, saving, error }
}
