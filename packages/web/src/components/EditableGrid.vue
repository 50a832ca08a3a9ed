<script setup lang="ts">
import type { Field, FixtureRow, Value } from '@patient-hook/contract'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { cellAfter, type CellAt } from '../lib/cell-keys'
import { cellText, cellValue, fromClipboard, toClipboard } from '../lib/cell-values'
import { show } from '../lib/text'

/**
 * Rows that are edited in place, by keys as in sheets of any kind: arrows go, typing or F2 begins, Enter and Tab keep, Escape leaves,
 * Shift chooses several, Delete empties, Ctrl+C, Ctrl+X and Ctrl+V go to and from a spreadsheet, Ctrl+Z and Ctrl+Y go back and forth.
 */
const props = defineProps<{
  label: string
  fields: readonly Field[]
  rows: readonly FixtureRow[]
  /** What is wrong with a cell, by `row field`; of a row alone by `row`. */
  faults: ReadonlyMap<string, string>
}>()
const emit = defineEmits<{ change: [rows: FixtureRow[]]; undo: []; redo: [] }>()

interface Column {
  name: string
  label: string
  field: Field | undefined
}
const columns = computed((): Column[] => [
  { name: 'id', label: 'id', field: undefined },
  ...props.fields.map((field) => ({ name: field.name, label: field.label, field })),
])

const at = ref<CellAt>({ row: 0, column: 0 })
/** The other corner of what is chosen. */
const corner = ref<CellAt>({ row: 0, column: 0 })
const chosen = computed(() => ({
  top: Math.min(at.value.row, corner.value.row),
  bottom: Math.max(at.value.row, corner.value.row),
  left: Math.min(at.value.column, corner.value.column),
  right: Math.max(at.value.column, corner.value.column),
}))
const isChosen = (row: number, column: number) => {
  const { top, bottom, left, right } = chosen.value
  return row >= top && row <= bottom && column >= left && column <= right
}
/** The text of the cell that is being edited; null where none is. */
const typed = ref<string | null>(null)

const scroller = useTemplateRef<HTMLElement>('scroller')
const virtual = useVirtualizer(
  computed(() => ({ count: props.rows.length, getScrollElement: () => scroller.value, estimateSize: () => 30, overscan: 12 })),
)
const items = computed(() => virtual.value.getVirtualItems())
const above = computed(() => items.value[0]?.start ?? 0)
const below = computed(() => Math.max(0, virtual.value.getTotalSize() - (items.value.at(-1)?.end ?? 0)))

watch(
  () => props.rows.length,
  (count) => {
    if (at.value.row >= count) at.value = corner.value = { row: Math.max(0, count - 1), column: at.value.column }
  },
)

async function go(to: CellAt, stretch = false): Promise<void> {
  at.value = to
  if (!stretch) corner.value = to
  virtual.value.scrollToIndex(to.row)
  await nextTick()
  scroller.value?.querySelector<HTMLElement>('[data-at]')?.focus()
}
const valueAt = ({ row, column }: CellAt): Value => props.rows[row]?.[columns.value[column]!.name] ?? null

/** @param cells from the cell downwards and to the right; rows that are not there yet are added */
function put(from: CellAt, cells: readonly (readonly string[])[]): void {
  const rows = [...props.rows]
  cells.forEach((line, down) => {
    const index = from.row + down
    const row: FixtureRow = { ...(rows[index] ?? freshRow(rows)) }
    line.forEach((text, right) => {
      const column = columns.value[from.column + right]
      if (column) row[column.name] = cellValue(column.field, text)
    })
    rows[index] = row
  })
  emit('change', rows)
}
function freshRow(rows: readonly FixtureRow[]): FixtureRow {
  return { id: Math.max(0, ...rows.map((row, index) => Number(row['id'] ?? index + 1))) + 1 }
}
function chosenCells(): string[][] {
  const { top, bottom, left, right } = chosen.value
  return props.rows
    .slice(top, bottom + 1)
    .map((row) => columns.value.slice(left, right + 1).map(({ name }) => cellText(row[name])))
}
const empty = () =>
  put(
    { row: chosen.value.top, column: chosen.value.left },
    chosenCells().map((line) => line.map(() => '')),
  )
function begin(text: string): void {
  if (props.rows.length > 0) typed.value = text
}
/** Keeps what was typed, where it is something else. */
function keep(): void {
  const text = typed.value
  typed.value = null
  if (text !== null && text !== cellText(valueAt(at.value))) put(at.value, [[text]])
}
function addRow(): void {
  emit('change', [...props.rows, freshRow(props.rows)])
  void nextTick(() => go({ row: props.rows.length - 1, column: Math.min(1, columns.value.length - 1) }))
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
  const next = control ? null : cellAfter(event.key, at.value, props.rows.length, columns.value.length)
  if (next) void go(next, event.shiftKey)
  else if (control && event.key === 'z') emit('undo')
  else if (control && (event.key === 'y' || event.key === 'Z')) emit('redo')
  else if (control && event.key === 'a') {
    corner.value = { row: 0, column: 0 }
    at.value = { row: props.rows.length - 1, column: columns.value.length - 1 }
  } else if (event.key === 'Enter' || event.key === 'F2') begin(cellText(valueAt(at.value)))
  else if (event.key === 'Delete' || event.key === 'Backspace') empty()
  else if (event.key.length === 1 && !control && !event.altKey) begin(event.key)
  else return
  event.preventDefault()
}
function onEditKey(event: KeyboardEvent): void {
  const { row, column } = at.value
  if (event.key === 'Escape') typed.value = null
  else if (event.key === 'Enter' || event.key === 'Tab') keep()
  else return
  event.preventDefault()
  const right = event.key === 'Tab' ? (event.shiftKey ? -1 : 1) : 0
  const down = event.key === 'Enter' ? 1 : 0
  void nextTick(() =>
    go({
      row: Math.min(props.rows.length - 1, row + down),
      column: Math.min(columns.value.length - 1, Math.max(0, column + right)),
    }),
  )
}
function onCopy(event: ClipboardEvent, cut: boolean): void {
  if (typed.value !== null) return
  event.clipboardData?.setData('text/plain', toClipboard(chosenCells()))
  event.preventDefault()
  if (cut) empty()
}
function onPaste(event: ClipboardEvent): void {
  if (typed.value !== null) return
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (text === '') return
  event.preventDefault()
  put({ row: chosen.value.top, column: chosen.value.left }, fromClipboard(text))
}
const faultOf = (row: number, name: string) =>
  props.faults.get(`${row} ${name}`) ?? (name === 'id' ? props.faults.get(`${row}`) : undefined)
const isNumber = ({ field }: Column) => !field || ((field.type === 'integer' || field.type === 'number') && !field.link)
const vFocus = { mounted: (input: HTMLInputElement) => input.focus() }
async function goTo(row: number, name: string | null): Promise<void> {
  await go({
    row,
    column: Math.max(
      0,
      columns.value.findIndex((column) => column.name === name),
    ),
  })
}
defineExpose({ addRow, removeRows, goTo, chosen })
</script>

<template>
  <div
    ref="scroller"
    class="scroll"
    @keydown="onKey"
    @copy="(event) => onCopy(event, false)"
    @cut="(event) => onCopy(event, true)"
    @paste="onPaste"
  >
    <table class="data-grid" role="grid" :aria-label="label" :aria-rowcount="rows.length + 1">
      <thead>
        <tr>
          <th scope="col" class="place"></th>
          <th v-for="column in columns" :key="column.name" scope="col" :title="column.name">
            {{ column.label }}<span v-if="column.field?.required" class="refused" title="required"> *</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="above" aria-hidden="true" :style="{ height: `${above}px` }"></tr>
        <tr v-for="item in items" :key="item.index" :aria-rowindex="item.index + 2">
          <th scope="row" class="place quiet">{{ item.index + 1 }}</th>
          <td
            v-for="(column, index) in columns"
            :key="column.name"
            role="gridcell"
            :tabindex="item.index === at.row && index === at.column ? 0 : -1"
            :data-at="item.index === at.row && index === at.column ? '' : undefined"
            :aria-selected="isChosen(item.index, index)"
            :aria-invalid="faultOf(item.index, column.name) ? true : undefined"
            :class="{
              number: isNumber(column),
              wrong: faultOf(item.index, column.name),
              quiet: (rows[item.index]![column.name] ?? null) === null,
            }"
            :title="faultOf(item.index, column.name) ?? show(rows[item.index]![column.name])"
            @mousedown.prevent="(event) => typed === null && go({ row: item.index, column: index }, event.shiftKey)"
            @dblclick="begin(cellText(valueAt(at)))"
          >
            <input
              v-if="typed !== null && item.index === at.row && index === at.column"
              v-model="typed"
              v-focus
              :aria-label="`${column.label}, row ${item.index + 1}`"
              :list="column.field?.enum ? `choices-${column.name}` : undefined"
              @blur="keep"
              @mousedown.stop
            />
            <template v-else>{{ show(rows[item.index]![column.name]) }}</template>
          </td>
        </tr>
        <tr v-if="below" aria-hidden="true" :style="{ height: `${below}px` }"></tr>
      </tbody>
    </table>
    <datalist v-for="{ name, field } in columns.filter((column) => column.field?.enum)" :id="`choices-${name}`" :key="name">
      <option v-for="choice in field!.enum" :key="String(choice)" :value="choice"></option>
    </datalist>
  </div>
</template>

<style scoped>
.place {
  text-align: right;
  min-width: 38px;
  font-weight: 400;
}
.number {
  text-align: right;
}
td {
  cursor: cell;
  max-width: 220px;
}
td[aria-selected='true'] {
  background: rgba(var(--v-theme-primary), 0.1);
}
td[data-at] {
  outline: 2px solid rgb(var(--v-theme-primary));
  outline-offset: -2px;
}
td.wrong {
  background: rgba(var(--v-theme-error), 0.14);
  box-shadow: inset 3px 0 rgb(var(--v-theme-error));
}
td input {
  width: 100%;
  min-width: 8ch;
}
</style>
