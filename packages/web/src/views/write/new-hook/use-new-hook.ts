import { answerProblem, RECIPES, type Answers, type RecipeRequest } from '@patient-hook/core/recipes'
import { computed, ref, watch } from 'vue'
import { language } from '../../../language/client'
import { useDrafts } from '../../../stores/drafts'
import { useHooks } from '../../../stores/hooks'
import { useProject } from '../../../stores/project'

/** In place of a recipe: a hook that does nothing yet. */
export const EMPTY = 'empty'

/** A new hook as it is put together: what it is called, where it belongs, and the recipe that writes it. */
export function useNewHook(start: { table: string; plugin: string }) {
  const project = useProject()
  const drafts = useDrafts()
  const hooks = useHooks()
  const table = ref(start.table)
  const plugin = ref(start.plugin)
  const recipe = ref(RECIPES[0]!.name)
  const answers = ref<Answers>({})
  const typedName = ref<string | null>(null)

  const chosen = computed(() => RECIPES.find(({ name }) => name === recipe.value) ?? null)
  const suggested = computed(() => {
    const base = `${table.value.replace(/_/g, '-')}-${recipe.value === EMPTY ? 'hook' : recipe.value}`
    for (let n = 1; ; n++) {
      const name = n === 1 ? base : `${base}-${n}`
      if (!hooks.hook(name)) return name
    }
  })
  const name = computed({ get: () => typedName.value ?? suggested.value, set: (typed: string) => (typedName.value = typed) })
  const nameProblem = computed(() => {
    if (!/^[a-z][a-z0-9-]*$/.test(name.value)) return 'Use lower-case letters, digits and hyphens, starting with a letter.'
    return hooks.hook(name.value) ? 'A hook with that name already exists.' : null
  })
  // Fields of one table are not those of another.
  watch([recipe, table], () => (answers.value = {}))

  const request = computed((): RecipeRequest | null => {
    const found = project.table(table.value)
    const model = { tables: project.tables, sequences: project.info?.sequences ?? [] }
    return found ? { model, table: found, hook: name.value, answers: answers.value } : null
  })
  /** What is missing, as a sentence. */
  const problem = computed(() => {
    if (!request.value) return 'Choose a table.'
    if (!/^[a-z][\w-]*$/i.test(plugin.value)) return 'Name a plugin: letters, digits, - and _.'
    return nameProblem.value ?? (chosen.value ? answerProblem(chosen.value, request.value) : null)
  })
  const written = computed(() =>
    chosen.value && request.value && problem.value === null ? chosen.value.write(request.value) : null,
  )

  /** Puts the hook and its test into the drafts: nothing runs on saves until they are saved and released. */
  async function create(): Promise<string> {
    const hook = name.value
    const folder = `plugins/${plugin.value}`
    const file = `${folder}/hooks/${hook}.ts`
    const code =
      written.value?.hook ??
      (await language('newHook', { table: table.value, moment: 'before-save', on: ['create', 'update'], watch: [] }))
    const files = new Map([[file, code]])
    if (written.value) files.set(`${folder}/tests/${hook}.test.ts`, written.value.test)
    if (!project.info?.plugins.some((each) => each.name === plugin.value))
      files.set(
        `${folder}/plugin.json`,
        `${JSON.stringify({ name: plugin.value, version: '0.1.0', description: '' }, null, 2)}\n`,
      )
    for (const [path, text] of files) {
      drafts.create(path, text)
      if (path.endsWith('.ts')) await language('write', path, text)
    }
    // Without each other they would not run.
    drafts.tie([...files.keys()])
    hooks.note(file, await language('outline', file))
    return hook
  }
  return { table, plugin, recipe, answers, name, nameProblem, chosen, request, problem, written, create }
}
