import type { JobEvent, JobInfo, JobResult } from '@patient-hook/contract'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { api } from '../lib/api'

type Listener = (event: JobEvent) => void
interface Watched {
  results: JobResult[]
  listeners: Set<Listener>
  stop: () => void
}
/** That many that have ended stay listed. */
const MOST_ENDED = 5

/** The long tasks of this page: watched as long as they run, whatever view is open. */
export const useJobs = defineStore('jobs', () => {
  const infos = ref<Record<string, JobInfo>>({})
  const watched = new Map<string, Watched>()
  const isOpen = ({ state }: JobInfo) => state === 'running' || state === 'waiting'
  /** The latest first. */
  const all = computed(() => Object.values(infos.value).sort((a, b) => b.begun.localeCompare(a.begun)))
  const running = computed(() => all.value.filter(isOpen))

  function note(job: JobInfo): void {
    const ended = all.value.filter((each) => !isOpen(each) && each.id !== job.id).slice(MOST_ENDED)
    for (const { id } of ended) watched.delete(id)
    infos.value = { ...Object.fromEntries(Object.entries(infos.value).filter(([id]) => watched.has(id))), [job.id]: job }
  }
  function open(id: string): Watched {
    const entry: Watched = { results: [], listeners: new Set(), stop: () => {} }
    watched.set(id, entry)
    entry.stop = api.watchJob(id, (event) => {
      if (event.event === 'result') entry.results = [...entry.results, event.result as JobResult]
      else {
        if (event.event === 'state') entry.results = [...event.results] as JobResult[]
        note(event.job)
      }
      for (const listener of entry.listeners) listener(event)
    })
    return entry
  }
  /** Tells a listener everything so far, then each event. @returns stops telling it; the job goes on */
  function follow(id: string, listener: Listener): () => void {
    const entry = watched.get(id) ?? open(id)
    const job = infos.value[id]
    if (job) listener({ event: 'state', job, results: entry.results } as JobEvent)
    entry.listeners.add(listener)
    return () => entry.listeners.delete(listener)
  }
  const cancel = (id: string) => api.cancelJob(id)
  return { all, running, follow, cancel, isOpen }
})
