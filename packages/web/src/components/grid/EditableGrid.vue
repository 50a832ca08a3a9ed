<script setup lang="ts">
import type { Field, FixtureRow, Value } from '@patient-hook/contract'
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { CellAt } from '../../lib/cell-keys'
import { cellText, cellValue, fromClipboard, toClipboard } from '../../lib/cell-values'
import { show } from '../../lib/text'
import { fieldColumn, type GridColumn } from './columns'
import DataGrid from './DataGrid.vue'

/**
 * Rows that are edited in place, by keys as in sheets of any kind: typing or F2 begins, Enter and Tab save, Escape leaves, Delete empties,
 * Ctrl+C, Ctrl+X and Ctrl+V go to and from a spreadsheet, Ctrl+Z and Ctrl+Y go back and forth.
 */
const props = defineProps<{
  label: string
  fields: readonly Field[]
  rows: readonly FixtureRow[]
  /** Problems with a cell, by `row field`; of a row alone by `row`. */
  faults: ReadonlyMap<string, string>
}>()
const emit = defineEmits<{ change: [rows: FixtureRow[]]; undo: []; redo: [] }>()

/** The row’s number in the file. */
const PLACE = '#'
const columns = computed((): GridColumn[] => [
  { key: PLACE, title: '', heading: true },
  { key: 'id', title: 'id', number: true },
  ...props.fields.map(fieldColumn),
])
const fieldOf = (name: string) => props.fields.find((field) => field.name === name)

const grid = useTemplateRef('grid')
const at = ref<CellAt | null>({ row: 0, column: 1 })
/** The text of the cell that is being edited; null where none is. */
const typed = ref<string | null>(null)
const chosen = computed(() => grid.value?.chosen ?? { top: 0, bottom: -1, left: 1, right: 1 })
const valueAt = (row: number, key: string): Value => props.rows[row]?.[key] ?? null
const textAt = (row: number, key: string) => (key === PLACE ? '' : cellText(valueAt(row, key)))

/** @param cells from the cell downwards and to the right; rows that are not there yet are added */
function put(from: CellAt, cells: readonly (readonly string[])[]): void {
  const rows = [...props.rows]
  cells.forEach((line, down) => {
    const index = from.row + down
    const row: FixtureRow = { ...(rows[index] ?? freshRow(rows)) }
    line.forEach((text, right) => {
      const column = columns.value[from.column + right]
      if (column && column.key !== PLACE) row[column.key] = cellValue(fieldOf(column.key), text)
    })
    rows[index] = row
  })
  emit('change', rows)
}
function freshRow(rows: readonly FixtureRow[]): FixtureRow {
  return { id: Math.max(0, ...rows.map((row, index) => Number(row['id'] ?? index + 1))) + 1 }
}
const corner = () => ({ row: chosen.value.top, column: chosen.value.left })
function empty(): void {
  const cells = grid.value?.chosenText() ?? []
  put(
    corner(),
    cells.map((line) => line.map(() => '')),
  )
}
const keyAt = () => columns.value[at.value?.column ?? 0]!.key
function begin(text: string): void {
  if (props.rows.length > 0 && at.value && keyAt() !== PLACE) typed.value = text
}
/** Takes over what was typed, where it is something else. */
function finish(): void {
  const text = typed.value
  typed.value = null
  if (text !== null && at.value && text !== textAt(at.value.row, keyAt())) put(at.value, [[text]])
}
function addRow(): void {
  emit('change', [...props.rows, freshRow(props.rows)])
  void nextTick(() => grid.value?.go({ row: props.rows.length - 1, column: Math.min(2, columns.value.length - 1) }))
}
function removeRows(): void {
  const { top, bottom } = chosen.value
  emit(
    'change',
    props.rows.filter((_, index) => index < top || index > bottom),
  )
}

function onKey(event: KeyboardEvent): void {
  if (typed.value !== null) return onEditKey(event)
  const control = event.ctrlKey || event.metaKey
  if (control && event.key === 'z') emit('undo')
  else if (control && (event.key === 'y' || event.key === 'Z')) emit('redo')
  else if (event.key === 'Enter' || event.key === 'F2') begin(textAt(at.value?.row ?? 0, keyAt()))
  else if (event.key === 'Delete' || event.key === 'Backspace') empty()
  else if (event.key.length === 1 && !control && !event.altKey) begin(event.key)
  else return
  event.preventDefault()
}
function onEditKey(event: KeyboardEvent): void {
  if (!at.value) return
  const { row, column } = at.value
  if (event.key === 'Escape') typed.value = null
  else if (event.key === 'Enter' || event.key === 'Tab') finish()
  else return
  event.preventDefault()
  const right = event.key === 'Tab' ? (event.shiftKey ? -1 : 1) : 0
  const down = event.key === 'Enter' ? 1 : 0
  const within = (place: number, count: number) => Math.min(count - 1, Math.max(0, place))
  void nextTick(() =>
    grid.value?.go({ row: within(row + down, props.rows.length), column: within(column + right, columns.value.length) }),
  )
}
function onCut(event: ClipboardEvent): void {
  if (typed.value !== null) return
  event.clipboardData?.setData('text/plain', toClipboard(grid.value?.chosenText() ?? []))
  event.preventDefault()
  empty()
}
function onPaste(event: ClipboardEvent): void {
  if (typed.value !== null) return
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (text === '') return
  event.preventDefault()
  put(corner(), fromClipboard(text))
}
const faultOf = (row: number, name: string) =>
  props.faults.get(`${row} ${name}`) ?? (name === 'id' ? props.faults.get(`${row}`) : undefined)
const vFocus = { mounted: (input: HTMLInputElement) => input.focus() }
async function goTo(row: number, name: string | null): Promise<void> {
  const column = columns.value.findIndex(({ key }) => key === (name ?? 'id'))
  await grid.value?.go({ row, column: Math.max(1, column) })
}
defineExpose({ addRow, removeRows, goTo, chosen })
</script>

<template>
  <DataGrid
    ref="grid"
    v-model:at="at"
    :label="label"
    :columns="columns"
    :count="rows.length"
    :cell-fault="faultOf"
    :cell-text="textAt"
    :cell-title="(row, key) => (key === PLACE ? undefined : show(valueAt(row, key)))"
    :cell-class="(row, key) => ({ quiet: key === PLACE || valueAt(row, key) === null })"
    :editing="typed !== null"
    ranged
    @key="onKey"
    @cut="onCut"
    @paste="onPaste"
    @open="(cell) => begin(textAt(cell.row, columns[cell.column]!.key))"
  >
    <template #cell="{ row, column }">
      <template v-if="column.key === PLACE">{{ row + 1 }}</template>
      <template v-else-if="typed !== null && at?.row === row && keyAt() === column.key">
        <input
          v-model="typed"
          v-focus
          class="cell"
          :aria-label="`${column.title}, row ${row + 1}`"
          :list="fieldOf(column.key)?.enum ? `choices-${column.key}` : undefined"
          @blur="finish"
          @mousedown.stop
        />
        <datalist v-if="fieldOf(column.key)?.enum" :id="`choices-${column.key}`">
          <option v-for="choice in fieldOf(column.key)!.enum" :key="String(choice)" :value="choice"></option>
        </datalist>
      </template>
      <template v-else>{{ show(valueAt(row, column.key)) }}</template>
    </template>
  </DataGrid>
</template>
