<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { cellAfter, type CellAt } from '../../lib/cell-keys'
import { toClipboard } from '../../lib/cell-values'
import { ICONS } from '../../theme/icons'
import type { GridColumn } from './columns'
import { useWidths } from './use-widths'

/**
 * Rows × columns, of which only the rows in sight are drawn. Arrows, Page, Home and End go from cell to cell, Shift with them chooses
 * several, Ctrl+A all, Ctrl+C copies. What is in a cell, and its editor, is the user's of the grid.
 */
const props = defineProps<{
  label: string
  columns: readonly GridColumn[]
  count: number
  rowKey?: (row: number) => string | number
  rowClass?: (row: number) => Record<string, boolean>
  cellClass?: (row: number, column: string) => Record<string, boolean>
  cellTitle?: (row: number, column: string) => string | undefined
  /** Why the value of a cell is wrong. */
  cellFault?: (row: number, column: string) => string | undefined
  /** A cell as it is copied. */
  cellText?: (row: number, column: string) => string
  /** Several cells can be chosen. */
  ranged?: boolean
  /** A cell is being edited: keys are its editor’s. */
  editing?: boolean
  /** Columns can be dragged to another place. */
  movable?: boolean
  /** Under this name this browser remembers the widths that were set. */
  store?: string
}>()
const emit = defineEmits<{
  sort: [column: string, within: boolean]
  move: [column: string, to: string]
  /** A key that does not go anywhere. */
  key: [event: KeyboardEvent]
  open: [at: CellAt]
  point: [row: number, column: string]
  seen: [from: number, to: number]
}>()
/** The cell that keys go from; null: none yet. */
const at = defineModel<CellAt | null>('at', { default: null })
/** The other corner of what is chosen. */
const corner = ref<CellAt | null>(null)

const scroller = useTemplateRef<HTMLElement>('scroller')
const virtual = useVirtualizer(
  computed(() => ({ count: props.count, getScrollElement: () => scroller.value, estimateSize: () => 30, overscan: 12 })),
)
const items = computed(() => virtual.value.getVirtualItems())
const above = computed(() => items.value[0]?.start ?? 0)
const below = computed(() => Math.max(0, virtual.value.getTotalSize() - (items.value.at(-1)?.end ?? 0)))
watch(
  () => [items.value[0]?.index ?? 0, items.value.at(-1)?.index ?? 0] as const,
  ([from, to]) => emit('seen', from, to),
)

const widths = useWidths(() => props.store ?? '')
/** Of all columns, in pixels, as the first rows gave them. */
const measured = ref<number[] | null>(null)
const SLACK = 8
watch(
  () => props.columns.map(({ key }) => key).join('\n'),
  () => (measured.value = null),
)
async function measure(): Promise<void> {
  await document.fonts.ready
  await nextTick()
  measured.value = [...(scroller.value?.querySelectorAll<HTMLElement>('thead th') ?? [])].map(
    ({ offsetWidth }) => offsetWidth + SLACK,
  )
}
const tableStyle = computed(() =>
  measured.value ? { tableLayout: 'fixed' as const, width: `${measured.value.reduce((sum, width) => sum + width, 0)}px` } : {},
)

const chosen = computed(() => {
  const one = at.value
  const other = corner.value ?? one
  if (!one || !other) return null
  return {
    top: Math.min(one.row, other.row),
    bottom: Math.max(one.row, other.row),
    left: Math.min(one.column, other.column),
    right: Math.max(one.column, other.column),
  }
})
const isAt = (row: number, column: number) => (at.value ? row === at.value.row && column === at.value.column : row + column === 0)
function isChosen(row: number, column: number): boolean {
  if (!props.ranged || !chosen.value) return false
  const { top, bottom, left, right } = chosen.value
  return row >= top && row <= bottom && column >= left && column <= right
}
watch(
  () => props.count,
  (count) => {
    if (at.value && at.value.row >= count) at.value = count > 0 ? { ...at.value, row: count - 1 } : null
    corner.value = null
  },
)

async function go(to: CellAt, stretch = false): Promise<void> {
  if (!stretch) corner.value = null
  else corner.value ??= at.value
  at.value = to
  virtual.value.scrollToIndex(to.row)
  await nextTick()
  const cell = scroller.value?.querySelector<HTMLElement>('[data-at]')
  cell?.focus()
  cell?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
}
function press(row: number, column: number, event: MouseEvent): void {
  if (props.editing && isAt(row, column)) return
  // What can be pressed in a cell keeps its own way.
  if ((event.target as HTMLElement).closest('button, a, input')) return void (at.value = { row, column })
  void go({ row, column }, props.ranged && event.shiftKey)
}
function onKey(event: KeyboardEvent): void {
  const target = event.target as HTMLElement
  if (props.editing) return emit('key', event)
  if (!target.matches('[data-at]')) return
  const control = event.ctrlKey || event.metaKey
  const from = at.value ?? { row: 0, column: 0 }
  const next = control || event.altKey ? null : cellAfter(event.key, from, props.count, props.columns.length)
  if (next) void go(next, props.ranged && event.shiftKey)
  else if (props.ranged && control && event.key === 'a') {
    corner.value = { row: 0, column: 0 }
    at.value = { row: props.count - 1, column: props.columns.length - 1 }
  } else return emit('key', event)
  event.preventDefault()
}
/** @returns the text of the chosen cells, a list for each row */
function chosenText(): string[][] {
  const { top, bottom, left, right } = chosen.value ?? { top: 0, bottom: -1, left: 0, right: -1 }
  return Array.from({ length: bottom - top + 1 }, (_, row) =>
    props.columns.slice(left, right + 1).map(({ key }) => props.cellText?.(top + row, key) ?? ''),
  )
}
function onCopy(event: ClipboardEvent): void {
  if (props.editing || !props.cellText || !chosen.value || !(event.target as HTMLElement).matches('[data-at]')) return
  event.clipboardData?.setData('text/plain', toClipboard(chosenText()))
  event.preventDefault()
}
let dragged: string | null = null
function drop(to: string): void {
  if (dragged !== null && dragged !== to) emit('move', dragged, to)
  dragged = null
}
const scrollToTop = () => scroller.value?.scrollTo({ top: 0 })
defineExpose({ go, chosen, chosenText, measure, scrollToTop })
</script>

<template>
  <div ref="scroller" class="scroll fill grid" @keydown="onKey" @copy="onCopy">
    <table class="data-grid" role="grid" :aria-label="label" :aria-rowcount="count + 1" :style="tableStyle">
      <colgroup v-if="measured">
        <col v-for="(width, index) in measured" :key="index" :style="{ width: `${width}px` }" />
      </colgroup>
      <thead>
        <tr>
          <th
            v-for="column in columns"
            :key="column.key"
            scope="col"
            :class="{ number: column.number, heading: column.heading }"
            :style="widths.styleOf(column.key)"
            :title="column.hint"
            :aria-sort="column.sorted"
            :draggable="movable && !column.heading"
            @dragstart="dragged = column.key"
            @dragover.prevent
            @drop.prevent="drop(column.key)"
            @keydown="(event) => widths.key(column.key, event) && event.preventDefault()"
          >
            <slot name="before" :column="column" />
            <v-btn
              v-if="column.sortable"
              class="sort"
              :append-icon="column.sorted && (column.sorted === 'ascending' ? ICONS.up : ICONS.down)"
              @click="emit('sort', column.key, $event.shiftKey)"
              >{{ column.title }}<sup v-if="column.sortPlace" aria-hidden="true">{{ column.sortPlace }}</sup></v-btn
            >
            <template v-else>{{ column.title }}</template>
            <span v-if="column.required" class="refused" title="required"> *</span>
            <span
              v-if="store"
              class="grip"
              aria-hidden="true"
              @pointerdown="widths.drag(column.key, $event)"
              @dblclick="widths.set(column.key, null)"
            />
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="above" aria-hidden="true" :style="{ height: `${above}px` }"></tr>
        <tr v-for="{ index } in items" :key="rowKey?.(index) ?? index" :aria-rowindex="index + 2" :class="rowClass?.(index)">
          <component
            :is="column.heading ? 'th' : 'td'"
            v-for="(column, place) in columns"
            :key="column.key"
            :scope="column.heading ? 'row' : undefined"
            :role="column.heading ? 'rowheader' : 'gridcell'"
            :aria-label="column.heading ? cellText?.(index, column.key) || undefined : undefined"
            :tabindex="isAt(index, place) ? 0 : -1"
            :data-at="isAt(index, place) ? '' : undefined"
            :aria-selected="ranged ? isChosen(index, place) : undefined"
            :aria-invalid="cellFault?.(index, column.key) ? true : undefined"
            :class="[
              { number: column.number, heading: column.heading, wrong: cellFault?.(index, column.key) },
              cellClass?.(index, column.key),
            ]"
            :style="widths.styleOf(column.key)"
            :title="cellFault?.(index, column.key) ?? cellTitle?.(index, column.key)"
            @mousedown="press(index, place, $event)"
            @mouseenter="emit('point', index, column.key)"
            @dblclick="emit('open', { row: index, column: place })"
          >
            <slot name="cell" :row="index" :column="column" />
          </component>
        </tr>
        <tr v-if="below" aria-hidden="true" :style="{ height: `${below}px` }"></tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.grid {
  background: rgb(var(--v-theme-surface));
}
.number {
  text-align: right;
}
thead th {
  position: sticky;
  top: 0;
}
.heading {
  position: sticky;
  left: 0;
  z-index: 1;
  background: rgb(var(--v-theme-surface));
  font-weight: 500;
}
thead .heading {
  z-index: 3;
  font-weight: 620;
  background: rgb(var(--v-theme-surface-variant));
}
.sort {
  padding: 0 2px;
  font-weight: 620;
}
.grip {
  position: absolute;
  inset: 0 0 0 auto;
  width: 7px;
  cursor: col-resize;
}
.grip:hover {
  background: rgba(var(--v-theme-primary), 0.3);
}
tbody :is(td, th) {
  position: relative;
  cursor: cell;
}
tbody .heading {
  position: sticky;
}
[aria-selected='true'] {
  background: rgba(var(--v-theme-primary), 0.1);
}
[data-at]:focus {
  outline: 2px solid rgb(var(--v-theme-primary));
  outline-offset: -2px;
}
.wrong {
  background: rgba(var(--v-theme-error), 0.14);
  box-shadow: inset 3px 0 rgb(var(--v-theme-error));
}
tbody tr:hover > * {
  background-image: linear-gradient(rgba(var(--v-theme-primary), 0.05), rgba(var(--v-theme-primary), 0.05));
}
</style>
