<script setup lang="ts">
import type { Place, RowOut } from '@patient-hook/contract'
import { useEventListener } from '@vueuse/core'
import { Pane } from 'splitpanes'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { LineMark } from '../../components/CodeEditor.vue'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import PathRibbon from '../../components/PathRibbon.vue'
import PanelSwitch from '../../components/PanelSwitch.vue'
import SplitBox from '../../components/SplitBox.vue'
import { countPath, type Station } from '../../lib/path-counts'
import { useDrafts } from '../../stores/drafts'
import { useHooks } from '../../stores/hooks'
import { useProject } from '../../stores/project'
import EditorPane from './EditorPane.vue'
import EffectSheet from './EffectSheet.vue'
import HookList from './HookList.vue'
import SheetControls from './SheetControls.vue'
import TestPanel from './TestPanel.vue'
import ProblemsPanel from './problems/ProblemsPanel.vue'
import SearchPanel from './search/SearchPanel.vue'
import TryFunction from './try/TryFunction.vue'
import { provideWrite } from './write-state'

/** Writing a hook: its place among the others, its code, and its effect on real rows. */

const route = useRoute()
const router = useRouter()
const drafts = useDrafts()
const hooks = useHooks()
const { name, hook, table, plugin, tests, sheet: ofSheet } = provideWrite()
const { scenario, focus, allFields, sheet, error, busy, run } = ofSheet
const project = useProject()
/** The form for a new hook is open. */
const making = ref(false)
const station = ref<Station | null>(null)
const counts = computed(() =>
  countPath(
    {
      rows: sheet.value?.rows ?? [],
      ripples: sheet.value?.ripples ?? [],
      verdicts: sheet.value?.verdicts ?? [],
      refusals: sheet.value?.refusals ?? [],
      failed: Boolean(error.value ?? sheet.value?.error),
      kept: false,
    },
    hooks.all,
  ),
)
/** The first thing that keeps the sheet from being whole. */
const trouble = computed(() => error.value?.report ?? sheet.value?.error ?? null)
/** Errors of single rows, of which one is shown above the sheet. */
const rowTrouble = computed(
  () => sheet.value?.refusals.find((each) => each.code.startsWith('hook/') && each.code !== 'hook/refused') ?? null,
)
const marks = computed(() => {
  const found = [
    trouble.value,
    ...(trouble.value?.others ?? []),
    ...(sheet.value?.refusals ?? []).filter((each) => each.code !== 'hook/refused'),
  ]
  const seen = new Set<string>()
  return found.flatMap((each): { file: string; mark: LineMark }[] => {
    if (!each?.file || !each.line) return []
    const key = `${each.file} ${each.line} ${each.message}`
    if (seen.has(key)) return []
    seen.add(key)
    const message = `${each.message}${each.row ? ` (${each.table} row ${each.row})` : ''}\n${each.todo}`
    return [{ file: each.file, mark: { line: each.line, message, severity: 'error' } }]
  })
})

/** The line that wrote the chosen cell, and the line that the cursor is on: each is shown on the other side. */
const cellPlace = ref<Place | null>(null)
const linePlace = ref<Place | null>(null)
watch(name, () => {
  cellPlace.value = null
  linePlace.value = null
})
const pane = useTemplateRef<InstanceType<typeof EditorPane>>('pane')
function chooseCell(row: RowOut, at: Place | null): void {
  cellPlace.value = at
  if (row.depth === 0) focus.value = row.id
}
/** An address may name a line of the hook's code. */
watch(
  [pane, () => route.query['line'], () => hook.value?.file],
  ([editor, line, file]) => {
    if (editor && file && typeof line === 'string') void editor.show(file, Number(line))
  },
  { flush: 'post' },
)
function goToPlace(place: Place): void {
  const owner = hooks.all.find((each) => each.file === place.file)
  if (owner && owner.name !== name.value) void router.push({ name: 'write', params: { hook: owner.name } })
  else void pane.value?.show(place.file, place.line)
}

/** No sheet yet, and nothing that is in its way. */
const waiting = computed(() => !error.value && (!sheet.value || sheet.value.table !== table.value?.name))
const reading = computed(() => hook.value !== undefined && !hooks.isRead(hook.value.file))
const PANELS = {
  sheet: 'Effects',
  tests: 'Tests',
  problems: 'Problems',
  search: 'Search',
  function: 'Try function',
} as const
const panel = ref<keyof typeof PANELS>('sheet')
/** An address may ask for a search in the code. */
watch(
  () => route.query['search'],
  (text) => {
    if (typeof text === 'string') panel.value = 'search'
  },
  { immediate: true },
)
async function runTests(): Promise<void> {
  panel.value = 'tests'
  await tests.run(plugin.value?.tests ?? [], hook.value ? [hook.value.file] : [])
}

const pick = (hookName: string) => {
  if (hooks.hook(hookName)) void router.push({ name: 'write', params: { hook: hookName } })
}
useEventListener('beforeunload', (event) => {
  if (drafts.changed.length > 0) event.preventDefault()
})
</script>

<template>
  <div class="column view">
    <PathRibbon v-if="hook" v-model="station" :counts="counts" :busy="busy" />
    <SplitBox name="write" class="fill">
      <Pane :size="18" :min-size="12"><HookList v-model:making="making" :chosen="name" :ran="sheet?.ran ?? {}" /></Pane>
      <Pane :size="82">
        <EmptyState v-if="name && hooks.isComing(name)" :title="`Loading ${name}…`" role="status" />
        <EmptyState v-else-if="!hook || !table" :title="name ? `There is no hook ${name}` : 'No hooks yet'"
          >{{
            project.tables.length === 0
              ? 'A hook belongs to a table. Create a table first.'
              : 'Choose a hook on the left, or create one from a recipe.'
          }}
          <template #action>
            <v-btn v-if="project.tables.length === 0" variant="flat" color="primary" :to="{ name: 'model' }"
              >Create a table</v-btn
            >
            <v-btn v-else variant="flat" color="primary" @click="making = true">New hook</v-btn>
          </template></EmptyState
        >
        <SplitBox v-else name="write-code" horizontal>
          <Pane :size="61" :min-size="20" class="column">
            <EditorPane
              ref="pane"
              :hook="hook"
              :table="table"
              :sheet="error ? null : sheet"
              :trouble="marks"
              :chosen="cellPlace"
              :testing="tests.running.value"
              @run="run"
              @test="runTests"
              @line="(place) => (linePlace = place)"
            />
          </Pane>
          <Pane :size="39" :min-size="15" class="column">
            <SheetControls v-model="scenario" :table="table" :ms="sheet?.spent.ms ?? null" :bare="panel !== 'sheet'">
              <template #before><PanelSwitch v-model="panel" :panels="PANELS" label="Below the code" /></template>
              <v-checkbox v-if="panel === 'sheet'" v-model="allFields" label="All fields" />
            </SheetControls>
            <template v-if="panel === 'sheet'">
              <ErrorNote v-if="trouble ?? rowTrouble" :error="(trouble ?? rowTrouble)!" />
              <EmptyState v-if="waiting" title="Rehearsing…" role="status">{{
                reading ? 'Effect sheet appears after the first rehearsal.' : ''
              }}</EmptyState>
              <EffectSheet
                v-if="sheet && sheet.table === table.name && !error"
                class="fill"
                :sheet="sheet"
                :table="table"
                :hooks="hooks.all"
                :station="station"
                :hook="hook.name"
                :all-fields="allFields"
                :line="linePlace"
                @pick="pick"
                @choose="chooseCell"
                @place="goToPlace"
              />
            </template>
            <ProblemsPanel v-else-if="panel === 'problems'" class="fill" :plugin="hook.plugin" @place="goToPlace" />
            <SearchPanel
              v-else-if="panel === 'search'"
              :key="String(route.query['search'])"
              class="fill"
              :plugin="hook.plugin"
              :start="String(route.query['search'] ?? '')"
              @place="goToPlace"
            />
            <TryFunction v-else-if="panel === 'function'" class="fill" @place="goToPlace" />
            <template v-else>
              <ErrorNote v-if="tests.error.value" :error="tests.error.value.report" />
              <TestPanel
                v-model:filter="tests.filter.value"
                v-model:narrow="tests.narrow.value"
                class="fill"
                :hook="hook.name"
                :results="tests.results.value"
                :job="tests.job.value"
                :running="tests.running.value"
                @run="runTests"
                @stop="tests.stop"
              />
            </template>
          </Pane>
        </SplitBox>
      </Pane>
    </SplitBox>
  </div>
</template>

<style scoped>
.view {
  height: 100%;
}
</style>
