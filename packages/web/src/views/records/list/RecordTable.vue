<script setup lang="ts">
import type { Table, Value } from '@patient-hook/contract'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import CellInput from '../../../components/CellInput.vue'
import { cellAfter, type CellAt } from '../../../lib/cell-keys'
import { sortedBy, sortKeysIn } from '../../../lib/sort-keys'
import { show } from '../../../lib/text'
import type { RecordBlocks } from './use-record-blocks'

/**
 * Records in a list of any length, with keys as in sheets of any kind: arrows go, Enter or F2 begins in a cell, Space chooses the record,
 * Enter on its id opens it. Links show what people call the record.
 */
const props = defineProps<{
  table: Table
  blocks: RecordBlocks
  /** The record that is opened. */
  opened: number | null
  columns: readonly string[]
  /** Keeps a typed value. @returns false where it was refused: the cell stays open */
  keep: (id: number, field: string, before: Value, value: Value) => Promise<boolean>
}>()
const order = defineModel<string>('order', { required: true })
/** Records that are chosen, by their ids. */
const chosen = defineModel<ReadonlySet<number>>('chosen', { required: true })
const emit = defineEmits<{ open: [id: number]; why: [id: number, field: string]; all: []; left: [] }>()

const fieldOf = (name: string) => props.table.fields.find((field) => field.name === name)!
const isNumber = (name: string) => ['integer', 'number'].includes(fieldOf(name).type) && !fieldOf(name).link
const sort = (name: string, event: MouseEvent) => (order.value = sortedBy(order.value, name, event.shiftKey))
function arrow(name: string): string {
  const keys = sortKeysIn(order.value)
  const at = keys.findIndex((key) => key.name === name)
  return at < 0 ? '' : ` ${keys[at]!.falling ? '↓' : '↑'}${keys.length > 1 ? at + 1 : ''}`
}
const sorted = (name: string) => {
  const key = sortKeysIn(order.value).find((each) => each.name === name)
  return key ? (key.falling ? 'descending' : 'ascending') : undefined
}

const scroller = useTemplateRef<HTMLElement>('scroller')
const total = computed(() => props.blocks.total.value ?? 0)
const virtual = useVirtualizer(
  computed(() => ({ count: total.value, getScrollElement: () => scroller.value, estimateSize: () => 30, overscan: 12 })),
)
const items = computed(() => virtual.value.getVirtualItems())
const above = computed(() => items.value[0]?.start ?? 0)
const below = computed(() => Math.max(0, virtual.value.getTotalSize() - (items.value.at(-1)?.end ?? 0)))
watch(
  () => [items.value[0]?.index ?? 0, items.value.at(-1)?.index ?? 0] as const,
  ([from, to]) => props.blocks.see(from, to),
)
const lines = computed(() => items.value.map(({ index }) => ({ index, listed: props.blocks.row(index) })))

/** Widths of the columns as the first records gave them: they stay while others come by. Pixels. */
const SLACK = 8
const widths = ref<number[] | null>(null)
watch(
  () => [props.table.name, ...props.columns],
  () => (widths.value = null),
)
watch(
  () => widths.value === null && lines.value.some(({ listed }) => listed !== null),
  async (due) => {
    if (!due) return
    await document.fonts.ready
    await nextTick()
    widths.value = [...(scroller.value?.querySelectorAll<HTMLElement>('thead th') ?? [])].map(
      ({ offsetWidth }) => offsetWidth + SLACK,
    )
  },
  { immediate: true },
)

/** The cell that keys go from; column 0 is the id. */
const at = ref<CellAt>({ row: 0, column: 0 })
const editing = ref<{ id: number; field: string; first: string | null } | null>(null)
/** The cell that is pointed at. */
const looked = ref('')
watch(
  () => [props.table.name, order.value],
  () => {
    at.value = { row: 0, column: 0 }
    editing.value = null
    scroller.value?.scrollTo({ top: 0 })
  },
)

async function go(to: CellAt): Promise<void> {
  at.value = to
  virtual.value.scrollToIndex(to.row)
  await nextTick()
  scroller.value?.querySelector<HTMLElement>('[data-at]')?.focus()
}
const idAt = (row: number) => props.blocks.row(row)?.record.id as number | undefined
function begin(first: string | null): void {
  const id = idAt(at.value.row)
  const field = props.columns[at.value.column - 1]
  if (id !== undefined && field !== undefined) editing.value = { id, field, first }
}
async function keepTyped(row: number, value: Value, key: string): Promise<boolean> {
  const { id, field } = editing.value!
  const before = (props.blocks.row(row)?.record[field] ?? null) as Value
  if (value !== before && !(await props.keep(id, field, before, value))) return false
  if (editing.value?.id !== id || editing.value.field !== field) return true
  editing.value = null
  if (key === '') return true
  const { column } = at.value
  const [down, right] = key === 'Enter' ? [1, 0] : [0, key === 'Tab' ? 1 : -1]
  const within = (place: number, count: number) => Math.min(count - 1, Math.max(0, place))
  await go({ row: within(row + down, total.value), column: within(column + right, props.columns.length + 1) })
  return true
}
function leave(): void {
  editing.value = null
  emit('left')
  void go(at.value)
}

/** The row from which Shift chooses on. */
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
  if (editing.value || !(event.target as HTMLElement).matches('[data-at]')) return
  const plain = !event.ctrlKey && !event.metaKey && !event.altKey
  const next = plain ? cellAfter(event.key, at.value, total.value, props.columns.length + 1) : null
  if (next) void go(next)
  else if (!plain) return
  else if (event.key === ' ') choose(at.value.row, event.shiftKey)
  else if (event.key === 'Enter' || event.key === 'F2') {
    if (at.value.column > 0) begin(null)
    else if (idAt(at.value.row) !== undefined) emit('open', idAt(at.value.row)!)
  } else if (event.key === '?' && at.value.column > 0 && idAt(at.value.row) !== undefined)
    emit('why', idAt(at.value.row)!, props.columns[at.value.column - 1]!)
  else if (event.key.length === 1 && at.value.column > 0) begin(event.key)
  else return
  event.preventDefault()
}
</script>

<template>
  <div ref="scroller" class="scroll fill" @keydown="onKey">
    <table
      class="data-grid"
      role="grid"
      :aria-label="`${table.label} records`"
      :aria-rowcount="total + 1"
      :class="{ fixed: widths }"
      :style="widths ? { width: `${widths.reduce((sum, width) => sum + width, 0)}px` } : {}"
    >
      <colgroup v-if="widths">
        <col v-for="(width, index) in widths" :key="index" :style="{ width: `${width}px` }" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col" class="pick">
            <input
              type="checkbox"
              :checked="chosen.size > 0"
              :indeterminate="chosen.size > 0 && chosen.size < total"
              aria-label="Choose all"
              @change="chosen.size > 0 ? (chosen = new Set()) : emit('all')"
            />
          </th>
          <th scope="col" :aria-sort="sorted('id')">
            <button type="button" @click="sort('id', $event)">id{{ arrow('id') }}</button>
          </th>
          <th v-for="name in columns" :key="name" scope="col" :class="{ number: isNumber(name) }" :aria-sort="sorted(name)">
            <button type="button" :title="`${name}; with Shift: within the order that there is`" @click="sort(name, $event)">
              {{ fieldOf(name).label }}{{ arrow(name) }}
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="above" aria-hidden="true" :style="{ height: `${above}px` }"></tr>
        <tr
          v-for="{ index, listed } in lines"
          :key="index"
          :aria-rowindex="index + 2"
          :class="{ opened: listed && listed.record.id === opened }"
        >
          <td v-if="!listed" :colspan="columns.length + 2" class="quiet">…</td>
          <template v-else>
            <td class="pick">
              <input
                type="checkbox"
                tabindex="-1"
                :checked="chosen.has(listed.record.id as number)"
                :aria-label="`Choose ${listed.record.id}`"
                @click="choose(index, $event.shiftKey)"
              />
            </td>
            <th
              scope="row"
              :tabindex="index === at.row && at.column === 0 ? 0 : -1"
              :data-at="index === at.row && at.column === 0 ? '' : undefined"
              @mousedown="at = { row: index, column: 0 }"
            >
              <button type="button" class="mono" tabindex="-1" @click="emit('open', listed.record.id as number)">
                {{ listed.record.id }}
              </button>
            </th>
            <td
              v-for="(name, column) in columns"
              :key="name"
              role="gridcell"
              :tabindex="index === at.row && at.column === column + 1 ? 0 : -1"
              :data-at="index === at.row && at.column === column + 1 ? '' : undefined"
              :class="{ number: isNumber(name), quiet: listed.record[name] === null }"
              :title="show(listed.record[name] as Value)"
              @mouseenter="looked = `${listed.record.id} ${name}`"
              @mousedown="go({ row: index, column: column + 1 })"
              @dblclick="begin(null)"
            >
              <CellInput
                v-if="editing?.id === listed.record.id && editing?.field === name"
                :field="fieldOf(name)"
                :value="listed.record[name] as Value"
                :label="`${fieldOf(name).label} of ${listed.record.id}`"
                :first="editing!.first"
                :keep="(value, key) => keepTyped(index, value, key)"
                @leave="leave"
              />
              <template v-else>
                {{
                  fieldOf(name).link && listed.record[name] !== null
                    ? (listed.labels[name]?.[String(listed.record[name])] ?? listed.record[name])
                    : show(listed.record[name] as Value)
                }}
                <button
                  v-if="looked === `${listed.record.id} ${name}`"
                  type="button"
                  class="why"
                  tabindex="-1"
                  :aria-label="`Why is ${fieldOf(name).label} of ${listed.record.id} what it is?`"
                  @mousedown.stop
                  @click.stop="emit('why', listed.record.id as number, name)"
                >
                  ?
                </button>
              </template>
            </td>
          </template>
        </tr>
        <tr v-if="below" aria-hidden="true" :style="{ height: `${below}px` }"></tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.fixed {
  table-layout: fixed;
}
th,
td {
  max-width: 240px;
}
.pick {
  width: 30px;
  padding: 0 6px 0 10px;
}
thead button {
  font-weight: 620;
  color: inherit;
}
.number {
  text-align: right;
}
tbody tr:hover {
  background: rgba(var(--v-theme-primary), 0.06);
}
td {
  position: relative;
  cursor: cell;
}
[data-at]:focus {
  outline: 2px solid rgb(var(--v-theme-primary));
  outline-offset: -2px;
}
/* Beside the value of the cell that is looked at. */
.why {
  position: absolute;
  right: 2px;
  top: 6px;
  width: 18px;
  height: 18px;
  line-height: 18px;
  border-radius: 9px;
  text-align: center;
  background: rgb(var(--v-theme-primary));
  color: rgb(var(--v-theme-on-primary));
}
tr.opened {
  background: rgba(var(--v-theme-primary), 0.14);
}
tbody th button {
  color: rgb(var(--v-theme-primary));
}
</style>
