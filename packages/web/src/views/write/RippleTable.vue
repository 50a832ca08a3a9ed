<script setup lang="ts">
import type { Place, RowOut } from '@patient-hook/contract'
import { computed, ref, watch } from 'vue'
import type { GridColumn } from '../../components/grid/columns'
import DataGrid from '../../components/grid/DataGrid.vue'
import TypedOver from '../../components/TypedOver.vue'
import ValueMark from '../../components/ValueMark.vue'
import type { CellAt } from '../../lib/cell-keys'
import { isSet, show } from '../../lib/text'
import { useTitles } from '../../lib/use-titles'
import { wroteOn } from './written'

/** The records that effects changed, one line for each value. */
const props = defineProps<{ ripples: readonly RowOut[]; line: Place | null }>()
const emit = defineEmits<{ choose: [row: RowOut, at: Place | null] }>()

const COLUMNS: GridColumn[] = [
  { key: 'record', title: 'record', heading: true },
  { key: 'depth', title: 'depth', number: true },
  { key: 'field', title: 'field' },
  { key: 'was', title: 'was' },
  { key: 'now', title: 'now' },
  { key: 'by', title: 'by' },
]
const { titleOfRow } = useTitles()
const lines = computed(() => props.ripples.flatMap((row) => row.changes.map((change) => ({ row, change }))))
function textAt(index: number, key: string): string {
  const { row, change } = lines.value[index]!
  if (key === 'record') return titleOfRow(row)
  if (key === 'depth') return String(row.depth)
  return key === 'field' ? change.field : key === 'by' ? change.by : show(key === 'was' ? change.from : change.to)
}
const at = ref<CellAt | null>(null)
watch(at, (cell) => {
  const line = cell && lines.value[cell.row]
  if (line) emit('choose', line.row, line.change.at ?? null)
})
</script>

<template>
  <DataGrid
    v-model:at="at"
    label="Ripples"
    :columns="COLUMNS"
    :count="lines.length"
    :cell-text="textAt"
    :cell-class="(row) => ({ here: wroteOn(lines[row]!.change, line) })"
    ranged
  >
    <template #cell="{ row, column }">
      <ValueMark v-if="column.key === 'now' && isSet(lines[row]!.change)" :kind="lines[row]!.change.kind" />
      {{ textAt(row, column.key) }}
      <TypedOver
        v-if="column.key === 'now' && lines[row]!.change.overwrites !== undefined"
        :typed="lines[row]!.change.overwrites!"
        :by="lines[row]!.change.by"
      />
    </template>
  </DataGrid>
</template>

<style scoped>
:deep(.here) {
  background: rgba(var(--v-theme-copper), 0.26);
}
</style>
