<script setup lang="ts">
import type { ErrorReport, Field, RowOut, Table, Value } from '@patient-hook/contract'
import { computed } from 'vue'
import { ICONS } from '../../theme/icons'
import IconButton from '../IconButton.vue'
import RecordForm from '../RecordForm.vue'
import type { TriedGround } from '../../lib/api'
import { useTitles } from '../../lib/use-titles'
import { useProject } from '../../stores/project'
import type { RowDraft } from './use-document'

/** One row of the save that is rehearsed: a record with its form, and what belongs to it. */
const props = defineProps<{
  row: RowDraft
  /** Its place in the save, from 1. */
  place: number
  table: Table
  outcome: RowOut | undefined
  refusals: readonly ErrorReport[]
  ground: TriedGround
  /** Places of the other rows, by key. */
  places: ReadonlyMap<number, number>
}>()
const emit = defineEmits<{
  mode: [mode: RowDraft['mode']]
  out: []
  line: [table: Table, field: string]
  lines: [table: Table, field: string]
}>()
const values = defineModel<Record<string, Value>>({ required: true })
const project = useProject()
const { titleOf } = useTitles()

const MODES = [
  { value: 'update', word: 'change' },
  { value: 'copy', word: 'copy' },
  { value: 'remove', word: 'remove' },
] as const
const children = computed(() =>
  project.tables.flatMap((table) =>
    table.fields.filter((field: Field) => field.link?.table === props.table.name).map((field) => ({ table, field: field.name })),
  ),
)
const refs = computed(() =>
  Object.fromEntries(
    Object.entries(props.row.refs).map(([field, to]) => [field, `row ${props.places.get(to) ?? '?'} of this save`]),
  ),
)
const own = computed(() => props.refusals.filter((each) => each.table === props.table.name))
const elsewhere = computed(() => props.refusals.filter((each) => !each.field || !(each.field in props.row.values)))
</script>

<template>
  <section class="card" :aria-label="`Row ${place}`">
    <header class="row">
      <span class="quiet small">{{ place }}</span>
      <strong>{{ titleOf(table.name, row.id, row.stored?.record ?? null) }}</strong>
      <v-select
        v-if="row.mode !== 'new'"
        :model-value="row.mode"
        :aria-label="`Action for row ${place}`"
        @update:model-value="emit('mode', $event as RowDraft['mode'])"
        :items="MODES.map((each) => ({ value: each.value, title: each.word }))"
      />
      <span v-if="outcome && outcome.event === 'create'" class="quiet small">would be {{ outcome.id }}</span>
      <span class="fill" />
      <IconButton :icon="ICONS.close" :label="`Remove row ${place}`" @click="emit('out')" />
    </header>
    <p v-for="(refusal, index) in elsewhere" :key="index" class="refused small">× {{ refusal.message }}</p>
    <p v-if="row.mode === 'remove'" class="quiet">Removed, along with the records that cascade from it.</p>
    <RecordForm
      v-else
      v-model="values"
      :table="table"
      :labels="row.stored?.labels ?? {}"
      :refusals="own"
      :row="outcome"
      :ground="ground"
      :refs="refs"
    />
    <footer v-if="children.length && row.mode !== 'remove'" class="small">
      <template v-for="each in children" :key="`${each.table.name}.${each.field}`">
        <v-btn variant="outlined" color="primary" :prepend-icon="ICONS.add" @click="emit('line', each.table, each.field)">{{
          each.table.label
        }}</v-btn>
        <v-btn v-if="row.mode === 'update'" @click="emit('lines', each.table, each.field)">
          Add existing {{ each.table.label }} records
        </v-btn>
      </template>
    </footer>
  </section>
</template>

<style scoped>
.card {
  padding: 8px 12px 12px;
  border-bottom: 1px solid rgb(var(--v-theme-line));
}
header {
  margin-bottom: 10px;
}
footer {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 8px;
}
</style>
