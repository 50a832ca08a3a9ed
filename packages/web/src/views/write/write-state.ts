import { computed, inject, provide, ref, watch, type InjectionKey } from 'vue'
import { useRoute } from 'vue-router'
import { useLanguage } from '../../language/use-language'
import { useDrafts } from '../../stores/drafts'
import { useHooks } from '../../stores/hooks'
import { useProject } from '../../stores/project'
import { useSaving } from './use-saving'
import { useSheet } from './use-sheet'
import { useTabs } from './use-tabs'
import { useTests } from './use-tests'

/**
 * All that Write holds while a hook is open, in one place: which hook, its files and their tabs, what is shown of the open one, the sheet,
 * the test run, and saving. Texts that are not saved outlive the view: they is in stores/drafts.
 */
function makeWriteState() {
  const route = useRoute()
  const project = useProject()
  const drafts = useDrafts()
  const hooks = useHooks()

  const name = computed(() => {
    const asked = route.params['hook']
    return typeof asked === 'string' && asked !== '' ? asked : (project.hooks[0]?.name ?? hooks.all[0]?.name ?? null)
  })
  const hook = computed(() => (name.value === null ? undefined : hooks.hook(name.value)))
  const table = computed(() => (hook.value ? project.table(hook.value.table) : undefined))
  const plugin = computed(() => project.info?.plugins.find((each) => each.name === hook.value?.plugin))

  const tabs = useTabs(hook)
  /** The open file, once its text is there. */
  const loaded = ref<string | null>(null)
  watch(
    tabs.active,
    async (file) => {
      if (!file) return
      await drafts.open(file)
      if (tabs.active.value === file) loaded.value = file
    },
    { immediate: true },
  )
  const { report, ready } = useLanguage(loaded)
  /** What is saved and discarded together: the tabs, and other files that a renaming changed along with one of them. */
  const files = computed(() => {
    const tied = tabs.tabs.value.some((file) => drafts.renamed.includes(file)) ? drafts.renamed : []
    return [...new Set([...tabs.tabs.value, ...tied])]
  })
  const changed = computed(() => files.value.filter(drafts.hasEdits))
  const saving = useSaving(files)
  const sheet = useSheet(hook, table)
  const tests = useTests()
  return { name, hook, table, plugin, tabs, loaded, report, ready, files, changed, saving, sheet, tests }
}

export type WriteState = ReturnType<typeof makeWriteState>
const KEY: InjectionKey<WriteState> = Symbol('what Write holds')

/** For the view itself, once. */
export function provideWrite(): WriteState {
  const state = makeWriteState()
  provide(KEY, state)
  return state
}

/** For what stands within the view. */
export function useWrite(): WriteState {
  const state = inject(KEY)
  if (!state) throw new Error('useWrite is for components within the Write view')
  return state
}
