<script setup lang="ts">
import { useEventListener, watchDebounced } from '@vueuse/core'
import { computed, nextTick, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { ApiError, api } from '../lib/api'
import { entriesOf, matching, type Entry } from '../lib/finder-entries'
import { latestOnly } from '../lib/latest'
import { addressOfList } from '../lib/list-address'
import { useProject } from '../stores/project'
import { useTour } from '../stores/tour'
import { ICONS } from '../theme/icons'

/** Everything by its name (Ctrl+K): views, hooks, tables, fields, records, kept views of lists, commands. */
const project = useProject()
const tour = useTour()
const router = useRouter()
const open = ref(false)
const typed = ref('')
const at = ref(0)
const MOST = 40
const list = useTemplateRef('list')
const field = useTemplateRef('field')

const known = computed<Entry[]>(() => [
  ...entriesOf(project.tables, project.hooks),
  {
    kind: 'command',
    word: project.dark ? 'Light' : 'Dark',
    detail: 'color theme',
    run: () => (project.dark = !project.dark),
  },
  { kind: 'command', word: 'Start tour', detail: 'five steps through the views', run: () => tour.goTo(0) },
])
const fromServer = shallowRef<Entry[]>([])
/** What the server has answered last: until then Enter must not lead elsewhere. */
const answered = ref('')
const latest = latestOnly()
watchDebounced(
  typed,
  async (text) => {
    if (text.trim() === '') return void (fromServer.value = [])
    try {
      const answer = await latest(api.search(text))
      if (!answer) return
      answered.value = text
      fromServer.value = [
        ...answer.views.map(({ table, name, query }): Entry => ({
          kind: 'list view',
          word: name,
          detail: table,
          to: { name: 'records', params: { table }, query: addressOfList(query) },
        })),
        ...answer.records.map(({ table, id, label }): Entry => ({
          kind: 'record',
          word: label,
          detail: `${table} ${id}`,
          to: { name: 'records', params: { table, id: String(id) } },
        })),
      ]
    } catch (thrown) {
      if (!(thrown instanceof ApiError)) throw thrown
      fromServer.value = []
      answered.value = text
    }
  },
  { debounce: 80 },
)
/** The code may contain what was typed, too. */
const ofCode = computed((): Entry[] =>
  typed.value.trim() === '' || answered.value !== typed.value
    ? []
    : [
        {
          kind: 'command',
          word: `Search the code for "${typed.value.trim()}"`,
          detail: 'hooks, modules, tests',
          to: {
            name: 'write',
            params: { hook: router.currentRoute.value.params['hook'] ?? '' },
            query: { search: typed.value.trim() },
          },
        },
      ],
)
const entries = computed(() => [...matching(known.value, typed.value, MOST), ...fromServer.value, ...ofCode.value])
watch(typed, () => (at.value = 0))

async function show(): Promise<void> {
  typed.value = ''
  at.value = 0
  open.value = true
  // Typing that follows at once loses no letter.
  await nextTick()
  await nextTick()
  field.value?.focus()
}
const close = () => (open.value = false)
function choose(entry: Entry | undefined): void {
  if (!entry) return
  close()
  if (entry.to) void router.push(entry.to)
  entry.run?.()
}
async function move(by: number): Promise<void> {
  at.value = Math.min(entries.value.length - 1, Math.max(0, at.value + by))
  await nextTick()
  list.value?.querySelector('[aria-selected=true]')?.scrollIntoView({ block: 'nearest' })
}
function onKey(event: KeyboardEvent): void {
  const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }
  const step = steps[event.key]
  if (step !== undefined) void move(step)
  else if (event.key === 'Enter') choose(entries.value[at.value])
  // In a field for searching it would only empty it.
  else if (event.key === 'Escape') close()
  else return
  event.preventDefault()
}
useEventListener(
  'keydown',
  (event) => {
    if (!(event.ctrlKey || event.metaKey) || event.altKey || event.shiftKey || event.key.toLowerCase() !== 'k') return
    event.preventDefault()
    event.stopPropagation()
    if (open.value) close()
    else void show()
  },
  { capture: true },
)
defineExpose({ show })
</script>

<template>
  <v-dialog v-model="open" max-width="640" aria-label="Search or run" :transition="false" location="top" class="finder">
    <v-card class="column box" @keydown="onKey">
      <v-text-field
        ref="field"
        v-model="typed"
        class="ma-2 flex-0-0"
        :prepend-inner-icon="ICONS.search"
        type="search"
        aria-controls="finder-list"
        :aria-activedescendant="entries.length ? `finder-${at}` : undefined"
        aria-label="Name of a view, hook, table, field or record"
        placeholder="View, hook, table, field, record"
      />
      <ul id="finder-list" ref="list" class="scroll" role="listbox" aria-label="Found">
        <li
          v-for="(entry, index) in entries"
          :id="`finder-${index}`"
          :key="`${entry.kind} ${entry.word} ${entry.detail}`"
          role="option"
          :aria-selected="index === at"
          class="row"
          @mousemove="at = index"
          @click="choose(entry)"
        >
          <span class="what quiet small">{{ entry.kind }}</span>
          <span class="fill">{{ entry.word }}</span>
          <span class="quiet small mono">{{ entry.detail }}</span>
        </li>
      </ul>
      <p v-if="entries.length === ofCode.length" class="quiet none" role="status">No results.</p>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.box {
  max-height: 60vh;
}
ul {
  list-style: none;
}
li {
  padding: 4px 14px;
  cursor: pointer;
}
li[aria-selected='true'] {
  background: rgba(var(--v-theme-primary), 0.12);
}
.what {
  width: 74px;
}
.none {
  padding: 8px 14px;
}
</style>
