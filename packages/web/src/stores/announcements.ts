import type { ProjectEvent } from '@patient-hook/contract'
import { useDocumentVisibility } from '@vueuse/core'
import { defineStore } from 'pinia'
import { watch } from 'vue'
import { api } from '../lib/api'
import { oneByOne } from '../lib/one-by-one'
import { useDrafts } from './drafts'
import { useProject } from './project'

/** Hears what changes of the project elsewhere: in a linked folder, on the command line, in another browser. */
export const useAnnouncements = defineStore('announcements', () => {
  const project = useProject()
  const drafts = useDrafts()
  const visibility = useDocumentVisibility()
  let stop = () => {}
  /** Each change begins with what the one before came to. */
  const queue = oneByOne()

  function open(): void {
    stop = api.watchProject((event) => {
      project.link = event.link
      void queue.run(() => follow(event))
    })
  }

  /** Texts first: whatever the project's new state asks for is asked with them. */
  async function follow({ revision, change }: ProjectEvent): Promise<void> {
    await project.arrived()
    if (revision === project.info?.revision) return
    // What changed while nobody listened is not known file by file.
    const isNext = change !== null && change.since === project.info?.revision
    await drafts.refresh(isNext ? change.files : drafts.opened())
    await (isNext ? project.take(change) : project.load())
  }

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
