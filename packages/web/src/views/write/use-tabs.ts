import type { HookInfo } from '@patient-hook/contract'
import { useLocalStorage } from '@vueuse/core'
import { computed, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useProject } from '../../stores/project'

/** The files beside a hook's own: modules of lib and tests of its plugin, each in a tab. The open one is in the address. */
export function useTabs(hook: Ref<HookInfo | undefined>) {
  const route = useRoute()
  const router = useRouter()
  const project = useProject()
  /** By plugin, so that every hook of it has the same tabs. */
  const opened = useLocalStorage<Record<string, string[]>>('patient-hook:tabs', {})

  const plugin = computed(() => project.info?.plugins.find((each) => each.name === hook.value?.plugin))
  const others = computed(() => [...(plugin.value?.lib ?? []), ...(plugin.value?.tests ?? [])])
  const tabs = computed(() => {
    if (!hook.value) return []
    const kept = (opened.value[hook.value.plugin] ?? []).filter((file) => others.value.includes(file))
    const asked = typeof route.query['file'] === 'string' ? route.query['file'] : ''
    return [...new Set([hook.value.file, ...kept, ...(others.value.includes(asked) ? [asked] : [])])]
  })
  const active = computed(() => {
    const asked = route.query['file']
    return typeof asked === 'string' && tabs.value.includes(asked) ? asked : (hook.value?.file ?? null)
  })
  /** Files of the plugin that have no tab yet. */
  const more = computed(() => others.value.filter((file) => !tabs.value.includes(file)))

  function open(file: string): void {
    if (!hook.value) return
    if (file !== hook.value.file && !tabs.value.includes(file))
      opened.value = { ...opened.value, [hook.value.plugin]: [...tabs.value.slice(1), file] }
    void router.push({ params: route.params, query: file === hook.value.file ? {} : { file } })
  }
  function close(file: string): void {
    if (!hook.value) return
    opened.value = { ...opened.value, [hook.value.plugin]: tabs.value.slice(1).filter((each) => each !== file) }
    if (active.value === file) void router.replace({ params: route.params, query: {} })
  }
  return { tabs, active, more, open, close }
}
