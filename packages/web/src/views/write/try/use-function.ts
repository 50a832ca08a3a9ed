import type { ErrorReport, FunctionCall, FunctionResult, KeepTest } from '@patient-hook/contract'
import type { ExportedFunction } from '@patient-hook/core/language'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { language } from '../../../language/client'
import { ApiError, api } from '../../../lib/api'
import { argumentsOf, firstArguments, problemOf, type TypedArgument } from '../../../lib/argument-values'
import { latestOnly } from '../../../lib/latest'
import { useDrafts } from '../../../stores/drafts'
import { useWrite } from '../write-state'

const PAUSE_MS = 150

/** Which function of the plugin's lib is tried, with what, and what came of it. */
export function useFunction() {
  const { plugin, tabs, ready } = useWrite()
  const drafts = useDrafts()
  const functions = shallowRef<readonly ExportedFunction[] | null>(null)
  const chosen = ref('')
  const typed = ref<TypedArgument[]>([])
  const answer = shallowRef<FunctionResult | null>(null)
  const error = shallowRef<ErrorReport | null>(null)

  const files = computed(() => plugin.value?.lib ?? [])
  const texts = computed(() => files.value.map((file) => drafts.drafts[file] ?? ''))
  const keyOf = ({ file, name }: ExportedFunction) => `${file} ${name}`
  const current = computed(() => functions.value?.find((each) => keyOf(each) === chosen.value))

  const latestList = latestOnly()
  async function list(): Promise<void> {
    const listed = await latestList(Promise.all(files.value.map(ready)).then(() => language('functions', [...files.value])))
    if (!listed) return
    functions.value = listed
    if (current.value) return
    // Those of the file that is open come first to mind.
    const first = listed.find((each) => each.file === tabs.active.value) ?? listed[0]
    chosen.value = first ? keyOf(first) : ''
  }
  watchDebounced([files, texts], list, { debounce: PAUSE_MS, immediate: true })

  /** Other parameters take other values; a change of the body leaves what was typed. */
  watch(
    () => current.value && JSON.stringify([keyOf(current.value), current.value.parameters]),
    () => (typed.value = current.value ? firstArguments(current.value) : []),
    { immediate: true },
  )

  const problem = computed(() => {
    const problems = (current.value?.parameters ?? []).map(({ shape, name }, at) =>
      typed.value[at] && !typed.value[at].left ? problemOf(shape, typed.value[at].value, name) : null,
    )
    return problems.find((each) => each !== null) ?? null
  })
  const call = computed<FunctionCall | null>(() =>
    current.value && problem.value === null && typed.value.length === current.value.parameters.length
      ? { file: current.value.file, name: current.value.name, args: argumentsOf(current.value.parameters, typed.value) }
      : null,
  )
  const asked = computed(() => call.value && { ...call.value, drafts: { ...drafts.drafts } })

  const latest = latestOnly()
  watchDebounced(
    () => JSON.stringify(asked.value),
    async () => {
      if (!asked.value) {
        answer.value = null
        error.value = null
        return
      }
      try {
        const came = await latest(api.callFunction(asked.value))
        if (!came) return
        answer.value = came
        error.value = came.error
      } catch (thrown) {
        if (!(thrown instanceof ApiError)) throw thrown
        answer.value = null
        error.value = thrown.report
      }
    },
    { debounce: PAUSE_MS, immediate: true },
  )

  const keep = ({ name }: KeepTest) => api.keepFunctionTest({ ...asked.value!, test: name })
  return { functions, chosen, current, typed, problem, answer, error, asked, keyOf, keep }
}
