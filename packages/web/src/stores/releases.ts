import type { ReleaseOverview } from '@patient-hook/contract'
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { api } from '../lib/api'
import { useAttempt } from '../lib/use-attempt'
import { useJob } from '../lib/use-job'
import { useProject } from './project'

/** What is released, to whom, and what the working copy has beside it. */
export const useReleases = defineStore('releases', () => {
  const project = useProject()
  const overview = shallowRef<ReleaseOverview | null>(null)
  const { error, busy, attempt } = useAttempt()
  /** The gate, and the release after it. */
  const job = useJob('release')

  const load = () => attempt(async () => void (overview.value = await api.releases()))
  /** Something that takes hold on the next save. */
  const change = (work: () => Promise<unknown>) =>
    attempt(async () => {
      await work()
      overview.value = await api.releases()
    })

  const plugins = computed(() => overview.value?.plugins ?? [])
  const plugin = (name: string) => plugins.value.find((each) => each.plugin === name)
  /** What everyone gets of a plugin. */
  const liveOf = (name: string) => {
    const own = plugin(name)
    return own?.releases.find(({ id }) => id === own.live)
  }
  const setAudience = (id: number, users: string[] | null) => change(() => api.setAudience(id, users, project.user))
  const stepBack = (name: string, to?: number) => change(() => api.stepBack(name, project.user, to))
  const switchHook = (hook: string, state: 'on' | 'off' | null) => change(() => api.switchHook(hook, state, project.user))
  return { overview, plugins, error, busy, job, load, plugin, liveOf, setAudience, stepBack, switchHook }
})
