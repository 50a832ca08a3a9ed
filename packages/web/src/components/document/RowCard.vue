<script setup lang="ts">
import type { ErrorReport, Field, RowOut, Table, Value } from '@patient-hook/contract'
import { computed } from 'vue'
import RecordForm from '../RecordForm.vue'
import type { TriedGround } from '../../lib/api'
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
      <strong>{{ table.label }} {{ row.id ?? '(new)' }}</strong>
      <select
        v-if="row.mode !== 'new'"
        :value="row.mode"
        :aria-label="`What is done to row ${place}`"
        @change="emit('mode', ($event.target as HTMLSelectElement).value as RowDraft['mode'])"
      >
        <option v-for="each in MODES" :key="each.value" :value="each.value">{{ each.word }}</option>
      </select>
      <span v-if="outcome && outcome.event === 'create'" class="quiet small">would be {{ outcome.id }}</span>
      <span class="fill" />
      <v-btn size="small" :aria-label="`Take row ${place} out`" @click="emit('out')">×</v-btn>
    </header>
    <p v-for="(refusal, index) in elsewhere" :key="index" class="refused small">× {{ refusal.message }}</p>
    <p v-if="row.mode === 'remove'" class="quiet">It is removed, with what goes with it.</p>
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
        <button type="button" @click="emit('line', each.table, each.field)">+ {{ each.table.label }}</button>
        <button v-if="row.mode === 'update'" type="button" @click="emit('lines', each.table, each.field)">
          its {{ each.table.label }} records
        </button>
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
footer button {
  border: 1px solid rgb(var(--v-theme-line));
  border-radius: 4px;
  padding: 1px 8px;
  color: rgb(var(--v-theme-primary));
}
</style>
