<script setup lang="ts">
import type { RecordValues, SaveOutcome, Value } from '@patient-hook/contract'
import { watchDebounced } from '@vueuse/core'
import { Pane } from 'splitpanes'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ConditionList from '../../components/ConditionList.vue'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import PathRibbon from '../../components/PathRibbon.vue'
import SplitBox from '../../components/SplitBox.vue'
import { api } from '../../lib/api'
import { countSave, type Station } from '../../lib/path-counts'
import { useAttempt } from '../../lib/use-attempt'
import { useNotices } from '../../stores/notices'
import { useProject } from '../../stores/project'
import ChosenRows from './list/ChosenRows.vue'
import ColumnMenu from './list/ColumnMenu.vue'
import CsvExchange from './list/CsvExchange.vue'
import { effectWords } from '../../lib/effect-words'
import RecordTable from './list/RecordTable.vue'
import SavedViews from './list/SavedViews.vue'
import { useListState } from './list/use-list-state'
import { useRecordBlocks } from './list/use-record-blocks'
import RecordPanel from './RecordPanel.vue'
import StationDetail from './StationDetail.vue'

/** The live data: a list beside the record that is being edited. */
const route = useRoute()
const router = useRouter()
const project = useProject()
const notices = useNotices()

const param = (name: string) => (typeof route.params[name] === 'string' && route.params[name] !== '' ? route.params[name] : null)
const table = computed(() => project.table(param('table') ?? project.tables[0]?.name ?? ''))
const editing = computed(() => param('id') !== null)
const id = computed(() => (param('id') === null || param('id') === 'new' ? null : Number(param('id'))))
const why = computed(() => (typeof route.query['why'] === 'string' ? route.query['why'] : null))

const { search, order, conditions, filtering, where, list, query, columns, setColumns, take } = useListState(() => table.value)
const whereText = computed(() => (Object.keys(where.value).length > 0 ? JSON.stringify(where.value) : ''))
const blocks = useRecordBlocks(() =>
  table.value ? { table: table.value.name, orderBy: order.value || 'id', search: search.value, where: whereText.value } : null,
)
const { total, error } = blocks
watchDebounced([() => table.value?.name, search, order, whereText], () => blocks.begin(), { debounce: 80, immediate: true })

/** Records that can be chosen at once; more are for a backfill. */
const MOST_CHOSEN = 2000
/** By id, in the order of choosing. */
const chosen = shallowRef<ReadonlySet<number>>(new Set())
const tooMany = ref(false)
watch([() => table.value?.name, search, whereText], () => {
  chosen.value = new Set()
  tooMany.value = false
})
const outcome = shallowRef<SaveOutcome | null>(null)
const station = ref<Station | null>(null)
const { error: failed, attempt } = useAttempt()

/** Ids that are asked for at once: they are part of a URL, whose length is bounded. */
const ASKED = 200
async function readChosen(ids: readonly number[]): Promise<RecordValues[]> {
  const records = new Map<number, RecordValues>()
  for (let from = 0; from < ids.length; from += ASKED) {
    const where = JSON.stringify({ id: { in: ids.slice(from, from + ASKED) } })
    const page = await api.records(table.value!.name, { where, limit: ASKED })
    for (const record of page.records) records.set(record.id as number, record)
  }
  return ids.flatMap((each) => records.get(each) ?? [])
}
const chooseAll = () =>
  attempt(async () => {
    tooMany.value = (total.value ?? 0) > MOST_CHOSEN
    if (tooMany.value) return
    const all = new Set<number>()
    const wanted = { search: search.value, where: whereText.value, orderBy: order.value || 'id', limit: 500 }
    for (let after: number | undefined; ;) {
      const { records } = await api.records(table.value!.name, { ...wanted, after })
      for (const record of records) all.add(record.id as number)
      after = records.at(-1)?.id as number | undefined
      if (records.length < wanted.limit) break
    }
    chosen.value = all
  })
async function keepCell(record: number, field: string, before: Value, value: Value): Promise<boolean> {
  const kept = await attempt(() =>
    api.save([{ table: table.value!.name, id: record, values: { [field]: value }, expect: { [field]: before } }], project.user),
  )
  if (!kept) return false
  outcome.value = kept
  notices.say(`Saved: ${effectWords(kept)}`)
  await blocks.reload()
  return true
}
function saved(kept: SaveOutcome): void {
  outcome.value = kept
  notices.say(`Saved: ${effectWords(kept)}`)
  chosen.value = new Set([...chosen.value].filter((each) => !kept.rows.some((row) => row.id === each && row.event === 'delete')))
  void blocks.reload()
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
function choose(name: string): void {
  outcome.value = null
  tooMany.value = false
  failed.value = null
  void router.push({ name: 'records', params: { table: name } })
}
const counts = computed(() => countSave(outcome.value, project.hooks))
const isEmptyList = computed(() => total.value === 0)
const isNarrowed = computed(() => search.value !== '' || whereText.value !== '')
</script>

<template>
  <div class="column view">
    <PathRibbon v-if="outcome" v-model="station" :counts="counts" />
    <StationDetail v-if="station && outcome" :station="station" :outcome="outcome" />
    <SplitBox name="records" class="fill">
      <Pane :size="editing ? 55 : 100" class="column">
        <div class="bar row line-b small">
          <v-select
            :model-value="table?.name"
            aria-label="Table"
            @update:model-value="choose"
            :items="project.tables.map((each) => ({ value: each.name, title: `${each.label} (${each.name})` }))"
          />
          <v-text-field type="search" v-model="search" placeholder="Search text or id" aria-label="Search" />
          <v-btn variant="outlined" :active="filtering" :aria-pressed="filtering" @click="filtering = !filtering">
            Filter{{ conditions.length > 0 ? ` (${conditions.length})` : '' }}
          </v-btn>
          <template v-if="table">
            <ColumnMenu :table="table" :columns="columns" @change="setColumns" />
            <SavedViews :table="table" :list="list" @take="take" />
          </template>
          <span class="fill" />
          <span v-if="total !== null" class="quiet" aria-label="Records of the list">{{
            total === 1 ? '1 record' : `${total} records`
          }}</span>
          <v-btn v-if="table" variant="outlined" color="primary" @click="open('new')">New record</v-btn>
          <CsvExchange v-if="table" :table="table" @saved="blocks.reload()" />
          <ConditionList v-if="filtering && table" v-model="conditions" class="filter" :table="table" />
        </div>
        <ChosenRows
          v-if="chosen.size > 0 && table"
          :table="table"
          :ids="chosen"
          :columns="columns"
          :read="readChosen"
          @clear="chosen = new Set()"
          @outcome="outcome = $event"
          @saved="saved"
        />
        <div v-if="tooMany" class="note row line-b small" role="status">
          {{ total }} records are too many to select.
          <router-link
            v-if="search === ''"
            class="link"
            :to="{ name: 'backfills', query: { table: table!.name, ...(whereText ? { where: whereText } : {}) } }"
            >Use a backfill to process them in batches</router-link
          >
          <template v-else>To process them in a backfill, use a filter instead of a search.</template>
        </div>
        <ErrorNote v-if="failed" :error="failed.report" />
        <ErrorNote v-if="error" :error="error.report" />
        <EmptyState v-else-if="project.tables.length === 0" title="No tables yet">Create one in Model.</EmptyState>
        <EmptyState v-else-if="!table" :title="`There is no table ${param('table')}`">Choose a table above.</EmptyState>
        <EmptyState
          v-else-if="isEmptyList"
          :title="
            search ? `No matches for “${search}”` : isNarrowed ? 'No record matches the filter' : `No ${table?.label} records yet`
          "
        >
          {{
            isNarrowed
              ? 'Clear the search and the filter to see all records.'
              : 'Create one with New record, or import a CSV file.'
          }}
        </EmptyState>
        <RecordTable
          v-else-if="total !== null && table"
          v-model:order="order"
          v-model:chosen="chosen"
          :table="table"
          :blocks="blocks"
          :opened="id"
          :columns="columns"
          :keep="keepCell"
          @open="open"
          @why="ask"
          @all="chooseAll"
          @left="failed = null"
          @columns="setColumns"
        />
      </Pane>
      <Pane v-if="editing && table" :size="45" :min-size="25">
        <RecordPanel
          :table="table"
          :id="id"
          :why="why"
          @why="(field) => ask(id!, field)"
          @close="open(null)"
          @outcome="outcome = $event"
          @removed="(open(null), blocks.reload())"
          @saved="(open($event), blocks.reload())"
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
.filter {
  flex-basis: 100%;
  padding: 2px 0 4px;
}
.note {
  padding: 3px 10px;
}
</style>
