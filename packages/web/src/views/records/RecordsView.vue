<script setup lang="ts">
import type { RecordPage, SaveOutcome } from '@patient-hook/contract'
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { Pane } from 'splitpanes'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ConditionList from '../../components/ConditionList.vue'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import PathRibbon from '../../components/PathRibbon.vue'
import SplitBox from '../../components/SplitBox.vue'
import { ApiError, api } from '../../lib/api'
import { conditionsOf, whereOf, type Condition, type Where } from '../../lib/conditions'
import { latestOnly } from '../../lib/latest'
import { countPath, type Station } from '../../lib/path-counts'
import { useProject } from '../../stores/project'
import CsvExchange from './CsvExchange.vue'
import RecordPanel from './RecordPanel.vue'
import RecordTable from './RecordTable.vue'
import RecordsTabs from './RecordsTabs.vue'
import StationDetail from './StationDetail.vue'

/** The live data: a list beside the record that is being edited. */
const PAGE = 100
const route = useRoute()
const router = useRouter()
const project = useProject()

const param = (name: string) => (typeof route.params[name] === 'string' && route.params[name] !== '' ? route.params[name] : null)
const table = computed(() => project.table(param('table') ?? project.tables[0]?.name ?? ''))
const editing = computed(() => param('id') !== null)
const id = computed(() => (param('id') === null || param('id') === 'new' ? null : Number(param('id'))))

/** Search, order and conditions stand in the address, so that a list can be kept and handed on. */
const queried = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : null)
function conditionsIn(text: string | null): Condition[] {
  try {
    return conditionsOf(JSON.parse(text ?? '{}') as Where)
  } catch {
    return []
  }
}
const search = ref(queried('search') ?? '')
const order = ref(queried('order') ?? 'id')
const conditions = ref(conditionsIn(queried('where')))
const filtering = ref(conditions.value.length > 0)
/** As JSON; the one before as long as a condition is being typed. */
const where = ref(queried('where') ?? '')
watch(conditions, (now) => {
  const made = whereOf(table.value!, now)
  if (Object.keys(made.faults).length > 0) return
  where.value = now.length > 0 ? JSON.stringify(made.where) : ''
})
watch([search, order, where], () => void router.replace({ params: route.params, query: query.value }))
const query = computed(() => ({
  ...(search.value ? { search: search.value } : {}),
  ...(order.value === 'id' ? {} : { order: order.value }),
  ...(where.value ? { where: where.value } : {}),
}))
const offset = ref(0)
const page = shallowRef<RecordPage | null>(null)
const error = shallowRef<ApiError | null>(null)
const outcome = shallowRef<SaveOutcome | null>(null)
const station = ref<Station | null>(null)
const hidden = useLocalStorage<Record<string, string[]>>('patient-hook:hidden-columns', {})
const columns = computed(() =>
  (table.value?.fields ?? [])
    .map((field) => field.name)
    .filter((name) => !(hidden.value[table.value?.name ?? ''] ?? []).includes(name)),
)

const latest = latestOnly()
async function load(): Promise<void> {
  if (!table.value) return
  try {
    const asked = { offset: offset.value, limit: PAGE, orderBy: order.value, search: search.value, where: where.value }
    const answer = await latest(api.records(table.value.name, asked))
    if (!answer) return
    page.value = answer
    error.value = null
  } catch (thrown) {
    if (!(thrown instanceof ApiError)) throw thrown
    error.value = thrown
  }
}
watchDebounced([() => table.value?.name, search, order, where], () => ((offset.value = 0), load()), {
  debounce: 80,
  immediate: true,
})

function turn(by: number): void {
  offset.value = Math.max(0, offset.value + by)
  void load()
}
const open = (record: number | 'new' | null) =>
  router.push({
    name: 'records',
    params: { table: table.value!.name, ...(record === null ? {} : { id: String(record) }) },
    query: query.value,
  })
/** Why does the field hold what it holds? */
const ask = (record: number, field: string | null) =>
  router.push({
    name: 'records',
    params: { table: table.value!.name, id: String(record) },
    query: { ...query.value, ...(field === null ? {} : { why: field }) },
  })
function choose(event: Event): void {
  search.value = ''
  order.value = 'id'
  conditions.value = []
  outcome.value = null
  void router.push({ name: 'records', params: { table: (event.target as HTMLSelectElement).value } })
}
function toggle(name: string): void {
  const key = table.value!.name
  const now = hidden.value[key] ?? []
  hidden.value = { ...hidden.value, [key]: now.includes(name) ? now.filter((each) => each !== name) : [...now, name] }
}

const counts = computed(() => {
  const { rows = [], verdicts = [], refusals = [], error: failed = null, kept = false } = outcome.value ?? {}
  const made = countPath(
    {
      rows: rows.filter((row) => row.depth === 0),
      ripples: rows.filter((row) => row.depth > 0),
      verdicts,
      refusals,
      failed: failed !== null,
      kept,
    },
    project.hooks,
  )
  return outcome.value
    ? made
    : made.map((each) => ({
        ...each,
        words: each.station === 'typed' ? 'nothing yet' : each.words === '0 rows' || each.station === 'commit' ? '–' : each.words,
      }))
})
</script>

<template>
  <div class="column view">
    <RecordsTabs />
    <PathRibbon v-model="station" :counts="counts" />
    <StationDetail v-if="station && outcome" :station="station" :outcome="outcome" />
    <SplitBox class="fill">
      <Pane :size="editing ? 55 : 100" class="column">
        <div class="bar row line-b small">
          <select :value="table?.name" aria-label="Table" @change="choose">
            <option v-for="each in project.tables" :key="each.name" :value="each.name">{{ each.label }} ({{ each.name }})</option>
          </select>
          <input v-model="search" type="search" placeholder="Search text or id" aria-label="Search" />
          <button type="button" class="toggle" :aria-pressed="filtering" @click="filtering = !filtering">
            Filter{{ conditions.length > 0 ? ` (${conditions.length})` : '' }}
          </button>
          <details class="columns">
            <summary>Columns</summary>
            <div class="menu">
              <label v-for="field in table?.fields ?? []" :key="field.name"
                ><input type="checkbox" :checked="columns.includes(field.name)" @change="toggle(field.name)" />
                {{ field.label }}</label
              >
            </div>
          </details>
          <span class="fill" />
          <template v-if="page">
            <span class="quiet">{{
              page.total === 0 ? 'none' : `${offset + 1}–${offset + page.records.length} of ${page.total}`
            }}</span>
            <v-btn size="small" :disabled="offset === 0" @click="turn(-PAGE)" aria-label="Earlier records">‹</v-btn>
            <v-btn
              size="small"
              :disabled="offset + page.records.length >= page.total"
              @click="turn(PAGE)"
              aria-label="Later records"
              >›</v-btn
            >
          </template>
          <v-btn size="small" variant="outlined" color="primary" @click="open('new')">New record</v-btn>
          <CsvExchange v-if="table" :table="table" @saved="load()" />
          <ConditionList v-if="filtering && table" v-model="conditions" class="filter" :table="table" />
        </div>
        <ErrorNote v-if="error" :error="error.report" />
        <EmptyState
          v-else-if="page && page.total === 0"
          :title="
            search ? `Nothing contains “${search}”` : where ? 'No record fits the filter' : `No ${table?.label} records yet`
          "
        >
          {{
            search || where
              ? 'Clear the search and the filter to see all records.'
              : 'Make the first one with New record, or import a CSV.'
          }}
        </EmptyState>
        <RecordTable
          v-else-if="page && table"
          v-model:order="order"
          :table="table"
          :page="page"
          :chosen="id"
          :columns="columns"
          @choose="open"
          @why="ask"
        />
      </Pane>
      <Pane v-if="editing && table" :size="45" :min-size="25">
        <RecordPanel
          :table="table"
          :id="id"
          :why="queried('why')"
          @why="(field) => ask(id!, field)"
          @close="open(null)"
          @outcome="outcome = $event"
          @removed="(open(null), load())"
          @saved="(open($event), load())"
        />
      </Pane>
    </SplitBox>
  </div>
</template>

<style scoped>
.view {
  height: 100%;
}
.bar {
  padding: 4px 10px;
  white-space: nowrap;
  flex-wrap: wrap;
}
.bar select {
  max-width: 116px;
}
.bar input[type='search'] {
  width: 116px;
}
.filter {
  flex-basis: 100%;
  padding: 2px 0 4px;
}
.columns {
  position: relative;
}
.columns summary {
  cursor: pointer;
  padding: 3px 6px;
}
.menu {
  position: absolute;
  z-index: 5;
  top: 26px;
  left: 0;
  background: rgb(var(--v-theme-surface));
  border: 1px solid rgb(var(--v-theme-line));
  padding: 8px 12px;
  width: 220px;
  max-height: 360px;
  overflow: auto;
}
.menu label {
  display: block;
  padding: 2px 0;
}
</style>
