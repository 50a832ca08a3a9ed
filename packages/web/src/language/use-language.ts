import { watchDebounced } from '@vueuse/core'
import { shallowRef, watch, type Ref } from 'vue'
import { useDrafts } from '../stores/drafts'
import { useHooks } from '../stores/hooks'
import { useProject } from '../stores/project'
import { language, warmUpFormatter } from './client'
import { follow } from './follow'
import type { Report } from './protocol'

/** What TypeScript and the findings say of the open file, on each pause in typing. */

/** Longer than the sheet's pause: on few processors the two should not get in each other's way. */
const PAUSE_MS = 220
const NOTHING: Report = { diagnostics: [], findings: [], outline: null }

export function useLanguage(path: Ref<string | null>) {
  const project = useProject()
  const drafts = useDrafts()
  const hooks = useHooks()
  const report = shallowRef<Report>(NOTHING)
  let opened: Promise<void> | null = null

  // A saved project may have other tables and hooks.
  watch(
    () => project.info,
    () => (opened = follow(project.info?.tables ?? [])),
    { immediate: true },
  )

  async function look(): Promise<void> {
    const file = path.value
    if (!file) return
    await opened
    await language('write', file, drafts.textOf(file))
    const found = await language('look', file)
    hooks.note(file, found.outline)
    if (path.value === file) report.value = found
    warmUpFormatter()
  }
  watch(path, () => (report.value = NOTHING))
  watchDebounced([path, () => (path.value ? drafts.textOf(path.value) : ''), () => project.info], look, {
    debounce: PAUSE_MS,
    immediate: true,
  })
  /** Asks the worker something of a file as edited. */
  const ready = async (file: string): Promise<void> => {
    await Promise.all([opened, drafts.open(file)])
    await language('write', file, drafts.textOf(file))
  }
  return { report, ready }
}
