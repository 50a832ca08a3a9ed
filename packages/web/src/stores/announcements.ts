import { useDocumentVisibility } from '@vueuse/core'
import { defineStore } from 'pinia'
import { watch } from 'vue'
import { api } from '../lib/api'
import { useDrafts } from './drafts'
import { useProject } from './project'

/** Hears what changes of the project elsewhere: in a linked folder, on the command line, in another browser. */
export const useAnnouncements = defineStore('announcements', () => {
  const project = useProject()
  const drafts = useDrafts()
  const visibility = useDocumentVisibility()
  let stop = () => {}

  function open(): void {
    let isFirst = true
    stop = api.watchProject(({ info, files, link }) => {
      project.link = link
      // What changed while nobody listened is not known file by file.
      const changed = isFirst && heard ? drafts.opened() : files
      isFirst = false
      heard = true
      if (changed.length === 0) return
      // Texts first: whatever the project's new state asks for is asked with them.
      void drafts.refresh(changed).then(() => project.take(info))
    })
  }
  let heard = false

  /** A page that nobody looks at takes none of the browser's few connections. */
  function listen(): void {
    watch(
      visibility,
      (state) => {
        stop()
        stop = () => {}
        if (state === 'visible') open()
      },
      { immediate: true },
    )
  }
  return { listen }
})
