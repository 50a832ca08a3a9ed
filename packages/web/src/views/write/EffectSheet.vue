<script setup lang="ts">
import type { ErrorReport, HookInfo, Place, RowOut, Sheet, Table } from '@patient-hook/contract'
import { computed, ref, watch } from 'vue'
import { fieldColumn, type GridColumn } from '../../components/grid/columns'
import DataGrid from '../../components/grid/DataGrid.vue'
import { cellText } from '../../lib/cell-values'
import { refusedAt, type Station } from '../../lib/path-counts'
import { isSet, KIND_WORD, show } from '../../lib/text'
import ValueMark from '../../components/ValueMark.vue'
import EmptyState from '../../components/EmptyState.vue'
import TypedOver from '../../components/TypedOver.vue'
import CellDetail from './CellDetail.vue'
import RippleTable from './RippleTable.vue'
import { wroteOn } from './written'

/** The grid of rows × fields: was → now, and who did it. */

const props = defineProps<{
  sheet: Sheet
  table: Table
  hooks: readonly HookInfo[]
  station: Station | null
  hook: string
  allFields: boolean
  /** The line that the cursor is on: cells that it wrote are highlighted. */
  line: Place | null
}>()
const emit = defineEmits<{ pick: [hook: string]; choose: [row: RowOut, at: Place | null]; place: [place: Place] }>()

const wroteHere = (change: RowOut['changes'][number] | undefined) => wroteOn(change, props.line)

interface Line {
  row: RowOut
  changes: Map<string, RowOut['changes'][number]>
  refusals: ErrorReport[]
  state: string
}

const moments = computed(() => new Map(props.hooks.map((hook) => [hook.name, hook.moment])))
const lines = computed<Line[]>(() => {
  const refusals = new Map<string, ErrorReport[]>()
  for (const refusal of props.sheet.refusals) {
    const key = String(refusal.row ?? 0)
    refusals.set(key, [...(refusals.get(key) ?? []), refusal])
  }
  const verdicts = new Map(
    props.sheet.verdicts
      .filter((each) => each.hook === props.hook && each.depth === 0)
      .flatMap((group) => group.ids.map((id) => [id, group] as const)),
  )
  return props.sheet.rows.map((row) => {
    const verdict = verdicts.get(row.id)
    return {
      row,
      changes: new Map(row.changes.map((change) => [change.field, change])),
      refusals: refusals.get(String(row.row)) ?? [],
      state: verdict ? (verdict.verdict === 'ran' ? 'ran' : verdict.reason) : '',
    }
  })
})

const shown = computed(() => {
  const { station } = props
  if (station === null || station === 'typed' || station === 'commit') return lines.value
  if (station === 'write') return lines.value.filter((line) => line.row.changes.length > 0 && line.refusals.length === 0)
  if (station === 'ripples') return []
  const woken = new Set(
    props.sheet.verdicts
      .filter((each) => each.verdict === 'ran' && each.depth === 0 && moments.value.get(each.hook) === station)
      .flatMap((each) => each.ids),
  )
  return lines.value.filter(
    (line) => woken.has(line.row.id) || line.refusals.some((each) => refusedAt(each, props.hooks) === station),
  )
})

/** The fields that anything happened to, unless all are wanted. */
const columns = computed(() => {
  const [first] = props.sheet.rows
  // They come with the next answer.
  const hasAll = first && props.table.fields.every(({ name }) => name in (first.now ?? first.was ?? {}))
  if (props.allFields && hasAll) return props.table.fields
  const touched = new Set(props.sheet.refusals.map((each) => each.field))
  for (const row of props.sheet.rows) for (const change of row.changes) touched.add(change.field)
  const hook = props.hooks.find((each) => each.name === props.hook)
  const byHook = new Set(
    props.sheet.rows.flatMap((row) => row.changes.filter((change) => change.by === props.hook).map((change) => change.field)),
  )
  const rank = (name: string) => (byHook.has(name) ? 0 : hook?.watch.includes(name) ? 1 : 2)
  return props.table.fields
    .filter((field) => touched.has(field.name) || hook?.watch.includes(field.name))
    .sort((a, b) => rank(a.name) - rank(b.name))
})

const STATE = '?'
const gridColumns = computed((): GridColumn[] => [
  { key: 'id', title: 'row', heading: true },
  { key: STATE, title: props.hook },
  ...columns.value.map((field) => ({ ...fieldColumn(field), title: field.name, number: false, required: false })),
])

const chosen = ref<{ id: number; field: string } | null>(null)
watch(
  () => props.hook,
  () => (chosen.value = null),
)
/** Selected cell follows its record and field when rows and columns change around it. */
const at = computed({
  get: () => {
    const row = shown.value.findIndex((line) => line.row.id === chosen.value?.id)
    const column = gridColumns.value.findIndex(({ key }) => key === chosen.value?.field)
    return row < 0 || column < 0 ? null : { row, column }
  },
  set: (to) => {
    const line = to && shown.value[to.row]
    if (line) choose(line, gridColumns.value[to.column]!.key)
  },
})
const detail = computed(() => {
  const line = chosen.value && lines.value.find((each) => each.row.id === chosen.value!.id)
  const field = chosen.value?.field
  if (!line || field === undefined || field === 'id' || field === STATE) return null
  return {
    line,
    field,
    change: line.changes.get(field),
    refusals: line.refusals.filter((each) => each.field === field || each.field === null || each.field === undefined),
  }
})
function choose(line: Line, field: string): void {
  chosen.value = { id: line.row.id, field }
  emit('choose', line.row, line.changes.get(field)?.at ?? null)
}
const changeAt = (row: number, field: string) => shown.value[row]!.changes.get(field)
function cellClass(row: number, key: string): Record<string, boolean> {
  const change = changeAt(row, key)
  const { row: record } = shown.value[row]!
  return {
    now: change?.by === props.hook,
    here: wroteHere(change),
    state: key === STATE,
    focus: key === 'id' && record.id === props.sheet.focus,
    chosen: chosen.value?.id === record.id && chosen.value.field === key,
  }
}
/** Values typed into these rows that a ripple of the same save overwrites, by row and field. */
const rippledOver = computed(() => {
  const over = new Map<string, RowOut['changes'][number]>()
  for (const { table, id, changes } of props.sheet.ripples)
    if (table === props.sheet.table)
      for (const change of changes) if (change.overwrites !== undefined) over.set(`${id} ${change.field}`, change)
  return over
})
const rippledAt = (line: Line, field: string) => rippledOver.value.get(`${line.row.id} ${field}`)
const refusalAt = (line: Line, field: string) => line.refusals.find((each) => each.field === field)
</script>

<template>
  <div class="column sheet">
    <EmptyState v-if="sheet.total === 0" :title="`No ${table.label} records here`">
      The sheet saves rows of a fixture set or live records, without storing anything. Add some to see the effect of this hook.
      <template #action>
        <v-btn variant="outlined" color="primary" :to="{ name: 'records', params: { table: table.name, id: 'new' } }"
          >Add a record</v-btn
        >
        <v-btn :to="{ name: 'fixtures' }">Open fixture sets</v-btn>
      </template>
    </EmptyState>
    <EmptyState v-else-if="station === 'ripples' && sheet.ripples.length === 0" title="No ripples"
      >No after-save hook had effects for these rows.</EmptyState
    >
    <RippleTable
      v-else-if="station === 'ripples'"
      class="fill"
      :ripples="sheet.ripples"
      :line="line"
      @choose="(row, at) => emit('choose', row, at)"
    />
    <EmptyState v-else-if="shown.length === 0" title="No rows at this station"
      >Click the station again to show all rows.</EmptyState
    >
    <DataGrid
      v-else
      v-model:at="at"
      label="Effect sheet"
      :columns="gridColumns"
      :count="shown.length"
      :row-key="(row) => shown[row]!.row.id"
      :row-class="(row) => ({ bad: shown[row]!.refusals.length > 0 })"
      :cell-class="cellClass"
      :cell-title="(row, key) => (key === STATE ? shown[row]!.state : undefined)"
      :cell-text="
        (row, key) => (key === STATE ? shown[row]!.state : cellText((shown[row]!.row.now ?? shown[row]!.row.was)?.[key]))
      "
      :store="`sheet ${table.name}`"
      ranged
    >
      <template #cell="{ row, column }">
        <v-btn
          v-if="column.key === 'id'"
          class="link mono"
          tabindex="-1"
          :aria-label="`Show values of ${table.name} ${shown[row]!.row.id} in the code`"
          :aria-pressed="shown[row]!.row.id === sheet.focus"
          @click="emit('choose', shown[row]!.row, null)"
          >{{ shown[row]!.row.id }}</v-btn
        >
        <template v-else-if="column.key === STATE">
          <span
            v-if="shown[row]!.refusals.length"
            class="refused"
            :title="shown[row]!.refusals.map((each) => each.message).join('\n')"
            >× {{ shown[row]!.refusals[0]!.message }}</span
          >
          <span v-else-if="shown[row]!.state === 'ran'" class="copper">ran</span>
          <span v-else class="quiet">{{ shown[row]!.state }}</span>
        </template>
        <template v-else>
          <template v-if="changeAt(row, column.key)">
            <ValueMark v-if="isSet(changeAt(row, column.key)!)" :kind="changeAt(row, column.key)!.kind" />
            <template v-if="sheet.event !== 'create'"
              ><s class="quiet">{{ show(changeAt(row, column.key)!.from) }}</s> →</template
            >
            {{ show(changeAt(row, column.key)!.to) }}
          </template>
          <span v-else class="quiet">{{ show((shown[row]!.row.now ?? shown[row]!.row.was)?.[column.key]) }}</span>
          <TypedOver
            v-if="changeAt(row, column.key)?.overwrites !== undefined"
            :typed="changeAt(row, column.key)!.overwrites!"
            :by="changeAt(row, column.key)!.by"
          />
          <span v-if="rippledAt(shown[row]!, column.key)" class="later" :title="KIND_WORD.ripple">
            <ValueMark kind="ripple" />
            {{ show(rippledAt(shown[row]!, column.key)!.to) }}
          </span>
          <ValueMark
            v-if="refusalAt(shown[row]!, column.key)"
            kind="refused"
            :title="refusalAt(shown[row]!, column.key)!.message"
          />
        </template>
      </template>
    </DataGrid>
    <CellDetail
      v-if="detail"
      :cell="`${table.name} ${detail.line.row.id}.${detail.field}`"
      :change="detail.change"
      :refusals="detail.refusals"
      :rippled="rippledAt(detail.line, detail.field)"
      @pick="(name) => emit('pick', name)"
      @place="(place) => emit('place', place)"
    />
  </div>
</template>

<style scoped>
.sheet {
  height: 100%;
}
:deep(.state) {
  max-width: 210px;
}
:deep(td.now) {
  background: rgba(var(--v-theme-copper), 0.09);
}
:deep(td.here) {
  background: rgba(var(--v-theme-copper), 0.26);
}
:deep(th.focus) {
  background: rgba(var(--v-theme-primary), 0.16);
}
:deep(td.chosen) {
  outline: 2px solid rgb(var(--v-theme-primary));
  outline-offset: -2px;
}
.later {
  margin-left: 6px;
  padding-right: 4px;
  border: 1px dashed rgb(var(--v-theme-success));
  border-radius: 3px;
}
:deep(tr.bad) {
  background: rgba(var(--v-theme-error), 0.05);
}
</style>
