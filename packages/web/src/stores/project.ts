import type { HookInfo, LinkState, ProjectChange, ProjectInfo, Table } from '@patient-hook/contract'
import { withProjectChange } from '@patient-hook/contract/project-change'
import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { ApiError, api } from '../lib/api'
import { natural } from '../lib/natural'
import { oneByOne } from '../lib/one-by-one'

/** The open project, who is working, and the look. */
export const useProject = defineStore('project', () => {
  /** Taken whole: what is in it is looked at only, and there may be much. */
  const info = shallowRef<ProjectInfo | null>(null)
  const error = ref<ApiError | null>(null)
  const user = useLocalStorage('patient-hook:user', '')
  // The first visit is as light or dark as the system; then it is whatever was chosen.
  const dark = useLocalStorage('patient-hook:dark', usePreferredDark().value)

  const tables = computed<readonly Table[]>(() => [...(info.value?.tables ?? [])].sort((a, b) => natural(a.label, b.label)))
  const hooks = computed<readonly HookInfo[]>(() => info.value?.hooks ?? [])

  /** Goes up with each change of the project: what was asked of it before may be otherwise now. */
  const version = ref(0)
  /** The folder that is kept the same as the working copy, if any. */
  const link = shallowRef<LinkState | null>(null)

  function begin(fresh: ProjectInfo) {
    if (fresh.revision === info.value?.revision) return
    info.value = fresh
    version.value++
    if (!fresh.users.some((each) => each.name === user.value)) user.value = fresh.users[0]?.name ?? 'owner'
  }

  /** An earlier answer never replaces a later one. */
  const queue = oneByOne()
  const load = (): Promise<void> => queue.run(ask)
  /** Settles when what was asked for is there, or cannot be had. */
  const arrived = queue.ended

  /** Goes on from the revision that is known, or asks for the whole project. */
  async function take(change: ProjectChange): Promise<void> {
    await arrived()
    // A client that saves gets the change twice: as the answer, and as an event like every other page.
    if (change.revision === info.value?.revision) return
    const fresh = info.value && withProjectChange(info.value, change)
    if (fresh) begin(fresh)
    else await load()
  }

  async function ask(): Promise<void> {
    try {
      begin(await api.project())
      error.value = null
    } catch (thrown) {
      if (!(thrown instanceof ApiError)) throw thrown
      error.value = thrown
    }
  }

  const tablesByName = computed(() => new Map(tables.value.map((each) => [each.name, each])))
  const hooksByName = computed(() => new Map(hooks.value.map((each) => [each.name, each])))
  const table = (name: string) => tablesByName.value.get(name)
  const hook = (name: string) => hooksByName.value.get(name)
  return { version, link, info, error, user, dark, tables, hooks, take, load, arrived, table, hook }
})
