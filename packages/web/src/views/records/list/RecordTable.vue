<script setup lang="ts">
import type { Table, Value } from '@patient-hook/contract'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import CellInput from '../../../components/grid/CellInput.vue'
import { fieldColumn, type GridColumn } from '../../../components/grid/columns'
import DataGrid from '../../../components/grid/DataGrid.vue'
import GridCheckbox from '../../../components/grid/GridCheckbox.vue'
import IconButton from '../../../components/IconButton.vue'
import type { CellAt } from '../../../lib/cell-keys'
import { cellText } from '../../../lib/cell-values'
import { sortedBy, sortKeysIn } from '../../../lib/sort-keys'
import { show } from '../../../lib/text'
import { ICONS } from '../../../theme/icons'
import type { RecordBlocks } from './use-record-blocks'

/** Records in a list of any length. Enter or F2 edits a cell, Space selects the record, Enter on its id opens it. */
const props = defineProps<{
  table: Table
  blocks: RecordBlocks
  /** The record that is opened. */
  opened: number | null
  columns: readonly string[]
  /** Saves a typed value. @returns false where it was refused: the cell stays open */
  keep: (id: number, field: string, before: Value, value: Value) => Promise<boolean>
}>()
const order = defineModel<string>('order', { required: true })
/** Records that are selected, by their ids. */
const chosen = defineModel<ReadonlySet<number>>('chosen', { required: true })
const emit = defineEmits<{
  open: [id: number]
  why: [id: number, field: string]
  all: []
  left: []
  columns: [columns: string[]]
}>()

const fieldOf = (name: string) => props.table.fields.find((field) => field.name === name)!
const sort = (name: string, within: boolean) => (order.value = sortedBy(order.value, name, within))
const gridColumns = computed((): GridColumn[] => {
  const keys = sortKeysIn(order.value)
  const sorting = (name: string): Partial<GridColumn> => {
    const place = keys.findIndex((key) => key.name === name)
    if (place < 0) return { sortable: true }
    return {
      sortable: true,
      sorted: keys[place]!.falling ? 'descending' : 'ascending',
      sortPlace: keys.length > 1 ? place + 1 : undefined,
    }
  }
  return [
    { key: 'id', title: 'id', heading: true, ...sorting('id') },
    ...props.columns.map((name) => ({ ...fieldColumn(fieldOf(name)), required: false, ...sorting(name) })),
  ]
})
function move(name: string, to: string): void {
  const others = props.columns.filter((each) => each !== name)
  others.splice(props.columns.indexOf(to), 0, name)
  emit('columns', others)
}

const grid = useTemplateRef('grid')
const total = computed(() => props.blocks.total.value ?? 0)
const listedAt = (row: number) => props.blocks.row(row)
const idAt = (row: number) => listedAt(row)?.record.id as number | undefined
const valueAt = (row: number, key: string) => (listedAt(row)?.record[key] ?? null) as Value
function textAt(row: number, key: string): string {
  const value = valueAt(row, key)
  const isLink = key !== 'id' && fieldOf(key).link !== null && value !== null
  return isLink ? (listedAt(row)?.labels[key]?.[String(value)] ?? String(value)) : show(value)
}
// Columns keep the widths that the first records gave them.
watch(
  () => [props.table.name, props.columns.join(), listedAt(0) !== null] as const,
  async ([, , isRead]) => {
    if (!isRead) return
    await nextTick()
    await grid.value?.measure()
  },
  { immediate: true, flush: 'post' },
)

const at = ref<CellAt | null>({ row: 0, column: 0 })
const editing = ref<{ id: number; field: string; first: string | null } | null>(null)
/** The cell that is pointed at. */
const pointed = ref('')
watch(
  () => [props.table.name, order.value],
  () => {
    at.value = { row: 0, column: 0 }
    editing.value = null
    grid.value?.scrollToTop()
  },
)
const keyAt = () => gridColumns.value[at.value?.column ?? 0]!.key
function begin(first: string | null): void {
  const id = at.value ? idAt(at.value.row) : undefined
  if (id !== undefined && keyAt() !== 'id') editing.value = { id, field: keyAt(), first }
}
async function keepTyped(row: number, value: Value, key: string): Promise<boolean> {
  const { id, field } = editing.value!
  const before = valueAt(row, field)
  if (value !== before && !(await props.keep(id, field, before, value))) return false
  if (editing.value?.id !== id || editing.value.field !== field) return true
  editing.value = null
  if (key === '' || !at.value) return true
  const [down, right] = key === 'Enter' ? [1, 0] : [0, key === 'Tab' ? 1 : -1]
  const within = (place: number, count: number) => Math.min(count - 1, Math.max(0, place))
  const { row: from, column } = at.value
  await grid.value?.go({ row: within(from + down, total.value), column: within(column + right, gridColumns.value.length) })
  return true
}
function leave(): void {
  editing.value = null
  emit('left')
  if (at.value) void grid.value?.go(at.value)
}

/** The row from which Shift selects on. */
let from = 0
function choose(row: number, stretch: boolean): void {
  const id = idAt(row)
  if (id === undefined) return
  const next = new Set(chosen.value)
  if (stretch)
    for (let each = Math.min(from, row); each <= Math.max(from, row); each++) {
      const other = idAt(each)
      if (other !== undefined) next.add(other)
    }
  else if (!next.delete(id)) next.add(id)
  if (!stretch) from = row
  chosen.value = next
}
function onKey(event: KeyboardEvent): void {
  if (editing.value || !at.value || event.ctrlKey || event.metaKey || event.altKey) return
  const { row } = at.value
  const id = idAt(row)
  if (event.key === ' ') choose(row, event.shiftKey)
  else if (event.key === 'Enter' || event.key === 'F2') {
    if (keyAt() !== 'id') begin(null)
    else if (id !== undefined) emit('open', id)
  } else if (event.key === '?' && keyAt() !== 'id' && id !== undefined) emit('why', id, keyAt())
  else if (event.key.length === 1 && keyAt() !== 'id') begin(event.key)
  else return
  event.preventDefault()
}
</script>

<template>
  <DataGrid
    ref="grid"
    v-model:at="at"
    :label="`${table.label} records`"
    :columns="gridColumns"
    :count="total"
    :row-class="(row) => ({ opened: opened !== null && idAt(row) === opened })"
    :cell-class="(row, key) => ({ quiet: valueAt(row, key) === null })"
    :cell-title="textAt"
    :cell-text="(row, key) => cellText(valueAt(row, key))"
    :editing="editing !== null"
    :store="`records ${table.name}`"
    ranged
    movable
    @sort="sort"
    @move="move"
    @key="onKey"
    @open="begin(null)"
    @point="(row, key) => (pointed = `${row} ${key}`)"
    @seen="blocks.see"
  >
    <template #before="{ column }">
      <GridCheckbox
        v-if="column.key === 'id'"
        label="Select all"
        :checked="chosen.size > 0"
        :some="chosen.size > 0 && chosen.size < total"
        @toggle="chosen.size > 0 ? (chosen = new Set()) : emit('all')"
      />
    </template>
    <template #cell="{ row, column }">
      <template v-if="!listedAt(row)"><span class="quiet">…</span></template>
      <template v-else-if="column.key === 'id'">
        <GridCheckbox
          tabindex="-1"
          :label="`Select ${idAt(row)}`"
          :checked="chosen.has(idAt(row)!)"
          @toggle="(stretch) => choose(row, stretch)"
        />
        <v-btn class="link mono" tabindex="-1" @click="emit('open', idAt(row)!)">{{ idAt(row) }}</v-btn>
      </template>
      <CellInput
        v-else-if="editing?.id === idAt(row) && editing?.field === column.key"
        :field="fieldOf(column.key)"
        :value="valueAt(row, column.key)"
        :label="`${column.title} of ${idAt(row)}`"
        :first="editing!.first"
        :keep="(value, key) => keepTyped(row, value, key)"
        @leave="leave"
      />
      <template v-else>
        {{ textAt(row, column.key) }}
        <IconButton
          v-if="pointed === `${row} ${column.key}`"
          class="why"
          tabindex="-1"
          :icon="ICONS.why"
          :label="`Why this value of ${column.title} in ${idAt(row)}?`"
          @mousedown.stop
          @click.stop="emit('why', idAt(row)!, column.key)"
        />
      </template>
    </template>
  </DataGrid>
</template>

<style scoped>
:deep(tr.opened > *) {
  background: rgba(var(--v-theme-primary), 0.14);
}
/* Beside the value of the cell that is pointed at. */
.why {
  position: absolute;
  right: 0;
  top: 0;
}
</style>
