import { useEventListener } from '@vueuse/core'
import { ref, shallowRef, watch, type Ref } from 'vue'
import { formatted, warmUpFormatter } from '../../language/client'
import { ApiError } from '../../lib/api'
import { useDrafts } from '../../stores/drafts'
import { useNotices } from '../../stores/notices'

/** Saving the files of the tabs: formatted first, then kept all at once as the working copy. */
export function useSaving(files: Ref<readonly string[]>) {
  const drafts = useDrafts()
  const notices = useNotices()
  const error = shallowRef<ApiError | null>(null)
  const saving = ref(false)
  // A user who has begun to write will keep it.
  watch(
    () => files.value.some(drafts.hasEdits),
    (begun) => begun && warmUpFormatter(),
    { immediate: true },
  )

  async function format(file: string): Promise<void> {
    await drafts.open(file)
    const before = drafts.textOf(file)
    try {
      const text = await formatted(before)
      // A user who typed on meanwhile keeps what they typed.
      if (drafts.textOf(file) === before) drafts.write(file, text)
    } catch {
      // Code that cannot be parsed is saved as it is, or refused by the server with the place of the error.
    }
  }

  /** Asked for once more while it went on: what was typed since is kept, too. */
  let again = false

  async function save(): Promise<void> {
    again = saving.value
    if (saving.value) return
    const changed = files.value.filter(drafts.hasEdits)
    if (changed.length === 0) return
    saving.value = true
    try {
      await drafts.save(changed, format)
      notices.say(changed.length === 1 ? `Saved ${changed[0]!.replace(/^.*\//, '')}` : `Saved ${changed.length} files`)
      error.value = null
    } catch (thrown) {
      if (!(thrown instanceof ApiError)) throw thrown
      error.value = thrown
    } finally {
      saving.value = false
    }
    if (again) await save()
  }
  // Once somebody has chosen, the conflict is over.
  watch(
    () => drafts.conflict,
    (conflict) => {
      if (conflict === null && error.value?.report.code === 'project/changed') error.value = null
    },
  )
  // Wherever the focus is; the editor answers to its own key.
  useEventListener('keydown', (event) => {
    if (event.defaultPrevented || !(event.ctrlKey || event.metaKey) || event.key !== 's') return
    event.preventDefault()
    void save()
  })
  return { save, saving, error }
}
