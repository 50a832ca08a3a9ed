<script setup lang="ts">
import type { Place } from '@patient-hook/contract'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import EmptyState from '../../../components/EmptyState.vue'
import { language } from '../../../language/client'
import { MOST_MATCHES, type CodeMatch } from '../../../language/search-code'
import { useConfirmation } from '../../../stores/confirmation'
import { useDrafts } from '../../../stores/drafts'
import { useNotices } from '../../../stores/notices'
import { useWrite } from '../write-state'

/** Search and replace in the code of the plugin, or of all plugins. Replacing changes drafts; nothing is saved. */
const props = defineProps<{ plugin: string; start: string }>()
const emit = defineEmits<{ place: [place: Place] }>()
const drafts = useDrafts()
const notices = useNotices()
const confirmation = useConfirmation()
const { ready } = useWrite()
const text = ref(props.start)
const replacement = ref('')
const matchCase = ref(false)
const everywhere = ref(false)
const matches = shallowRef<readonly CodeMatch[]>([])
const query = computed(() => ({
  text: text.value,
  matchCase: matchCase.value,
  plugin: everywhere.value ? null : props.plugin,
}))
const byFile = computed(() => {
  const groups = new Map<string, CodeMatch[]>()
  for (const match of matches.value) groups.set(match.file, [...(groups.get(match.file) ?? []), match])
  return [...groups]
})
const count = computed(
  () => `${matches.value.length === MOST_MATCHES ? `the first ${MOST_MATCHES}` : matches.value.length} matches`,
)

async function search(): Promise<void> {
  const asked = query.value
  const found = await language('search', { ...asked })
  if (asked === query.value) matches.value = found
}
watchDebounced([query, () => drafts.drafts], search, { debounce: 150, immediate: true })

async function replaceAll(): Promise<void> {
  // The worker must have the latest text of every draft.
  await Promise.all(drafts.changed.map(ready))
  const texts = Object.entries(await language('replace', { ...query.value }, replacement.value))
  const question = {
    title: `Replace in ${texts.length} ${texts.length === 1 ? 'file' : 'files'}?`,
    text: `"${text.value}" becomes "${replacement.value}" in ${texts.map(([file]) => file.replace('plugins/', '')).join(', ')}. Nothing is saved yet.`,
    action: 'Replace all',
  }
  if (texts.length === 0 || !(await confirmation.ask(question))) return
  const before = new Map<string, string>()
  for (const [file, next] of texts) {
    await drafts.open(file)
    before.set(file, drafts.textOf(file))
    drafts.write(file, next)
  }
  drafts.tie([...before.keys()])
  notices.say(`Replaced in ${texts.length} ${texts.length === 1 ? 'file' : 'files'}`, () => {
    for (const [file, old] of before) drafts.write(file, old)
  })
}
</script>

<template>
  <div class="column panel">
    <v-form class="controls line-b small" aria-label="Search code" @submit.prevent="search">
      <v-text-field v-model="text" type="search" label="Search" autofocus />
      <v-text-field v-model="replacement" label="Replace with" />
      <v-btn variant="outlined" :disabled="matches.length === 0" @click="replaceAll">Replace all</v-btn>
      <v-checkbox v-model="matchCase" label="Match case" />
      <v-checkbox v-model="everywhere" label="All plugins" />
    </v-form>
    <EmptyState v-if="text === ''" title="Search the code">Matches in hooks, modules and tests appear here.</EmptyState>
    <EmptyState v-else-if="matches.length === 0" title="No matches">Try a shorter text, or search all plugins.</EmptyState>
    <div v-else class="scroll fill results" tabindex="0" aria-label="Matches">
      <p class="quiet small" role="status">{{ count }} in {{ byFile.length }} {{ byFile.length === 1 ? 'file' : 'files' }}</p>
      <section v-for="[file, found] in byFile" :key="file">
        <h4 class="mono">{{ file.replace('plugins/', '') }}</h4>
        <v-btn
          v-for="each in found"
          :key="`${each.line}:${each.start}`"
          class="match mono"
          block
          @click="emit('place', { file, line: each.line })"
        >
          <span class="quiet line">{{ each.line }}</span>
          <span class="text"
            >{{ each.text.slice(0, each.start).trimStart() }}<mark>{{ each.text.slice(each.start, each.end) }}</mark
            >{{ each.text.slice(each.end) }}</span
          >
        </v-btn>
      </section>
    </div>
  </div>
</template>

<style scoped>
.panel {
  height: 100%;
}
.controls {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 12px;
  padding: 6px 12px;
}
.controls > .v-text-field {
  min-width: 170px;
}
.results {
  padding: 4px 12px 12px;
}
h4 {
  font-size: 12.5px;
  margin-top: 6px;
}
.match {
  justify-content: start;
}
.match :deep(.v-btn__content) {
  gap: 10px;
  overflow: hidden;
}
.line {
  width: 4ch;
  text-align: right;
}
.text {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: pre;
}
mark {
  background: rgba(var(--v-theme-copper), 0.3);
  color: inherit;
}
</style>
