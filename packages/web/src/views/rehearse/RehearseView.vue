<script setup lang="ts">
import type { Place, Rehearsal, Table, Value } from '@patient-hook/contract'
import { Pane } from 'splitpanes'
import { computed, ref, shallowRef, watch } from 'vue'
import { useEventListener } from '@vueuse/core'
import { useRoute, useRouter } from 'vue-router'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import PathRibbon from '../../components/PathRibbon.vue'
import SplitBox from '../../components/SplitBox.vue'
import { ApiError, api } from '../../lib/api'
import { countPath, type Station } from '../../lib/path-counts'
import { useHooks } from '../../stores/hooks'
import { useProject } from '../../stores/project'
import CompareView from './CompareView.vue'
import KeepTest from './KeepTest.vue'
import RecordChooser from './RecordChooser.vue'
import RowCard from './RowCard.vue'
import RunView from './RunView.vue'
import StepView from './StepView.vue'
import { useRehearsal, type RowDraft } from './use-rehearsal'

/** A save that is not kept: its rows at the left, and below them what happened, from top to bottom. */
const route = useRoute()
const router = useRouter()
const project = useProject()
const hooks = useHooks()
const state = useRehearsal()
const { fixtures, clock, rows, run, error, busy } = state

const table = ref(
  typeof route.params['table'] === 'string' && route.params['table'] ? route.params['table'] : (project.tables[0]?.name ?? ''),
)
const station = ref<Station | null>(null)
const panel = ref<'path' | 'steps' | 'compare'>('path')
const held = shallowRef<{ run: Rehearsal; word: string } | null>(null)
function hold(): void {
  const what = rows.value.map((row) => `${row.table} ${row.id ?? '(new)'}`).join(', ')
  held.value = { run: run.value!, word: `${what}, as ${project.user}, at ${new Date().toLocaleTimeString('en-GB')}` }
}
const keeping = ref(false)
const keptFile = ref<string | null>(null)

const asked = typeof route.query['on'] === 'string' ? route.query['on'] : null
if (asked !== null) fixtures.value = asked === 'live' ? null : asked
async function attempt(work: () => Promise<void>): Promise<void> {
  try {
    await work()
  } catch (thrown) {
    if (!(thrown instanceof ApiError)) throw thrown
    error.value = thrown.report
  }
}
const choose = (of: Table, id: number) => attempt(() => state.add(of, id))
/** The address names the first record, so that a rehearsal can be opened by it. */
const first = route.params['id']
if (typeof first === 'string' && first !== '') {
  const of = project.table(table.value)
  if (of && first === 'new') state.addNew(of)
  else if (of) void choose(of, Number(first))
}
watch([table, () => rows.value[0], fixtures], () => {
  const [row] = rows.value
  void router.replace({
    name: 'rehearse',
    params: { table: row?.table ?? table.value, id: row ? String(row.id ?? 'new') : '' },
    query: { on: fixtures.value ?? 'live' },
  })
})

const places = computed(() => new Map(rows.value.map((row, index) => [row.key, index + 1])))
const outcomeOf = (index: number) => run.value?.rows.find((row) => row.depth === 0 && row.row === index + 1)
const refusalsOf = (index: number) => (run.value?.refusals ?? []).filter((each) => each.row === index + 1)
const chosen = computed(() => rows.value.flatMap((row) => (row.id === null ? [] : [`${row.table} ${row.id}`])))

function setMode(row: RowDraft, mode: RowDraft['mode']): void {
  rows.value = rows.value.map((each) => (each.key === row.key ? { ...each, mode } : each))
}
function setValues(row: RowDraft, values: Record<string, Value>): void {
  rows.value = rows.value.map((each) => (each.key === row.key ? { ...each, values } : each))
}
const addLines = (row: RowDraft, of: Table, field: string) =>
  attempt(async () => {
    const where = JSON.stringify({ [field]: row.id })
    const { records } = await api.records(of.name, { where, limit: 50, fixtures: fixtures.value ?? undefined })
    for (const record of records) await state.add(of, record.id)
  })

const counts = computed(() => {
  const { rows: all = [], verdicts = [], refusals = [], error: failed = null } = run.value ?? {}
  const ofRun = countPath(
    {
      rows: all.filter((row) => row.depth === 0),
      ripples: all.filter((row) => row.depth > 0),
      verdicts,
      refusals,
      failed: failed !== null,
      kept: false,
    },
    hooks.all,
  )
  return run.value ? ofRun : ofRun.map((each) => ({ ...each, words: each.station === 'typed' ? 'nothing yet' : '–' }))
})
const ran = computed(() => Object.keys(run.value?.ran ?? {}).sort())
const slept = computed(() =>
  [...new Set(run.value?.verdicts.filter((each) => each.verdict === 'skipped').map((each) => each.hook))]
    .filter((hook) => !ran.value.includes(hook))
    .sort(),
)
const outcomeWord = computed(() => {
  if (!run.value) return ''
  const { error: failed, refusals } = run.value
  if (!failed) return 'It would be kept. Nothing was.'
  return refusals.length > 0
    ? `It would be refused: ${refusals.length === 1 ? '1 refusal' : `${refusals.length} refusals`}.`
    : 'It would fail.'
})

/** The run in the shape of the command line's --json. */
function exportRun(): void {
  const { rows: all, verdicts, lookups, refusals, sent, logs, spent, error: failed } = run.value!
  const text = JSON.stringify(
    { rows: all, verdicts, lookups, refusals, sent, logs, spent, ...(failed ? { error: failed } : {}) },
    null,
    2,
  )
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: 'application/json' }))
  link.download = `rehearsal-${rows.value[0]?.table ?? 'run'}.json`
  link.click()
  URL.revokeObjectURL(link.href)
}
function goTo(place: Place): void {
  const owner = hooks.all.find((each) => each.file === place.file)
  if (owner) void router.push({ name: 'write', params: { hook: owner.name } })
}
const openHook = (name: string) => router.push({ name: 'write', params: { hook: name } })
useEventListener('keydown', (event) => {
  if (event.ctrlKey && event.key === 'Enter') void state.rehearse()
})
</script>

<template>
  <div class="column view">
    <PathRibbon v-model="station" :counts="counts" :busy="busy" />
    <SplitBox class="fill">
      <Pane :size="20" :min-size="14">
        <RecordChooser
          v-model:table="table"
          :tables="project.tables"
          :fixtures="fixtures"
          :chosen="chosen"
          @add="choose"
          @make="(of) => state.addNew(of)"
          @failed="(failure) => (error = failure.report)"
        />
      </Pane>
      <Pane :size="80">
        <SplitBox horizontal>
          <Pane :size="50" :min-size="15" class="column">
            <div class="bar line-b small">
              <strong>Rehearse</strong>
              <label
                >on
                <select
                  :value="fixtures ?? ''"
                  aria-label="On the records of"
                  @change="state.changeGround(($event.target as HTMLSelectElement).value || null)"
                >
                  <option v-for="set in project.info?.fixtures ?? []" :key="set.name" :value="set.name">{{ set.name }}</option>
                  <option value="">the live records</option>
                </select>
              </label>
              <label>at <input v-model="clock" type="search" placeholder="now" aria-label="Time of the save" /></label>
              <span class="fill" />
              <v-btn v-if="rows.length" size="small" @click="rows = []">Begin anew</v-btn>
              <v-btn size="small" variant="outlined" color="primary" :disabled="!run || keeping" @click="keeping = true">
                Keep as a test
              </v-btn>
            </div>
            <ErrorNote v-if="error" :error="error" />
            <p v-if="keptFile" class="kept small" role="status">
              Kept as <span class="mono">{{ keptFile }}</span>, with its fixture set.
            </p>
            <EmptyState v-if="rows.length === 0" title="Nothing to save yet"
              >Choose a record at the left to pretend a change, or make a new one. Nothing of it is kept.</EmptyState
            >
            <div v-else class="scroll fill">
              <RowCard
                v-for="(row, index) in rows"
                :key="row.key"
                :model-value="row.values"
                :row="row"
                :place="index + 1"
                :table="project.table(row.table)!"
                :outcome="outcomeOf(index)"
                :refusals="refusalsOf(index)"
                :fixtures="fixtures"
                :places="places"
                @update:model-value="(values) => setValues(row, values)"
                @mode="(mode) => setMode(row, mode)"
                @out="state.takeOut(row.key)"
                @line="(of, field) => state.addNew(of, { field, to: row })"
                @lines="(of, field) => addLines(row, of, field)"
              />
            </div>
          </Pane>
          <Pane :size="50" :min-size="15" class="column">
            <div class="bar line-b small">
              <div class="switch" role="tablist" aria-label="The run">
                <button role="tab" type="button" :aria-selected="panel === 'path'" @click="panel = 'path'">Path</button>
                <button role="tab" type="button" :aria-selected="panel === 'steps'" @click="panel = 'steps'">Steps</button>
                <button role="tab" type="button" :aria-selected="panel === 'compare'" @click="panel = 'compare'">Compare</button>
              </div>
              <span role="status" :class="{ refused: run?.error }">{{ outcomeWord }}</span>
              <span class="fill" />
              <span v-if="run" class="quiet">{{ run.spent['ms'] }} ms</span>
              <v-btn v-if="run" size="small" @click="exportRun">Export JSON</v-btn>
            </div>
            <div class="below fill">
              <div class="fill">
                <EmptyState v-if="!run" title="No run yet"
                  >It comes with the first record, and again with each change.</EmptyState
                >
                <RunView v-else-if="panel === 'path'" :run="run" :station="station" @place="goTo" @hook="openHook" />
                <StepView v-else-if="panel === 'steps'" :run="run" @place="goTo" />
                <CompareView v-else :held="held" :run="run" @hold="hold" />
              </div>
              <KeepTest
                v-if="keeping && run"
                :asked="state.asked.value"
                :ran="ran"
                :slept="slept"
                @close="keeping = false"
                @kept="(file) => ((keeping = false), (keptFile = file))"
              />
            </div>
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
.bar {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 10px;
  padding: 3px 12px;
  background: rgb(var(--v-theme-background));
}
.bar input {
  width: 190px;
}
.kept {
  padding: 4px 14px;
}
.below {
  display: flex;
  min-height: 0;
}
</style>
