<script setup lang="ts">
import type { ErrorReport, HookInfo, Place, RowOut, Sheet, Table } from '@patient-hook/contract'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { cellAfter } from '../../lib/cell-keys'
import { refusedAt, type Station } from '../../lib/path-counts'
import { KIND_WORD, LETTER, show } from '../../lib/text'
import ChangeMark from '../../components/ChangeMark.vue'
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
  /** The line that the cursor is on: cells that it wrote stand out. */
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

const scroller = useTemplateRef<HTMLDivElement>('scroller')
const virtual = useVirtualizer(
  computed(() => ({ count: shown.value.length, getScrollElement: () => scroller.value, estimateSize: () => 30, overscan: 12 })),
)
const items = computed(() => virtual.value.getVirtualItems())
const above = computed(() => items.value[0]?.start ?? 0)
const below = computed(() => Math.max(0, virtual.value.getTotalSize() - (items.value.at(-1)?.end ?? 0)))

const chosen = ref<{ id: number; field: string } | null>(null)
watch(
  () => props.hook,
  () => (chosen.value = null),
)
const detail = computed(() => {
  const line = chosen.value && lines.value.find((each) => each.row.id === chosen.value!.id)
  if (!line) return null
  const field = chosen.value!.field
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
async function move(event: KeyboardEvent): Promise<void> {
  const at = chosen.value && {
    row: shown.value.findIndex((line) => line.row.id === chosen.value!.id),
    column: columns.value.findIndex((field) => field.name === chosen.value!.field),
  }
  const next = cellAfter(event.key, at && at.row >= 0 && at.column >= 0 ? at : null, shown.value.length, columns.value.length)
  if (!next) return
  event.preventDefault()
  choose(shown.value[next.row]!, columns.value[next.column]!.name)
  virtual.value.scrollToIndex(next.row)
  await nextTick()
  scroller.value?.querySelector('td.chosen')?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
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
      Choose another fixture set above, or add {{ table.name }}.csv to the set’s folder.
    </EmptyState>
    <EmptyState v-else-if="station === 'ripples' && sheet.ripples.length === 0" title="No ripples"
      >No after-save hook asked for effects on these rows.</EmptyState
    >
    <RippleTable
      v-else-if="station === 'ripples'"
      class="fill"
      :ripples="sheet.ripples"
      :line="line"
      @choose="(row, at) => emit('choose', row, at)"
    />
    <EmptyState v-else-if="shown.length === 0" title="No rows at this station"
      >Choose the station again to see all rows.</EmptyState
    >
    <div v-else ref="scroller" class="scroll fill" tabindex="0" aria-label="Effect sheet" @keydown.self="move">
      <table class="data-grid">
        <thead>
          <tr>
            <th scope="col">row</th>
            <th scope="col">{{ hook }}</th>
            <th
              v-for="field in columns"
              :key="field.name"
              scope="col"
              :title="field.label + (field.help ? ': ' + field.help : '')"
            >
              {{ field.name }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-if="above > 0" :style="{ height: `${above}px` }" aria-hidden="true">
            <td />
          </tr>
          <tr v-for="item in items" :key="String(item.key)" :class="{ bad: shown[item.index]!.refusals.length > 0 }">
            <th scope="row" class="mono" :class="{ focus: shown[item.index]!.row.id === sheet.focus }">
              <button
                type="button"
                :aria-label="`Show the values of ${table.name} ${shown[item.index]!.row.id} beside the code`"
                :aria-pressed="shown[item.index]!.row.id === sheet.focus"
                @click="emit('choose', shown[item.index]!.row, null)"
              >
                {{ shown[item.index]!.row.id }}
              </button>
            </th>
            <td class="state" :title="shown[item.index]!.state">
              <span
                v-if="shown[item.index]!.refusals.length"
                class="refused"
                :title="shown[item.index]!.refusals.map((each) => each.message).join('\n')"
                >× {{ shown[item.index]!.refusals[0]!.message }}</span
              >
              <span v-else-if="shown[item.index]!.state === 'ran'" class="copper">ran</span>
              <span v-else class="quiet">{{ shown[item.index]!.state }}</span>
            </td>
            <td
              v-for="field in columns"
              :key="field.name"
              :class="{
                now: shown[item.index]!.changes.get(field.name)?.by === hook,
                here: wroteHere(shown[item.index]!.changes.get(field.name)),
                chosen: chosen?.id === shown[item.index]!.row.id && chosen.field === field.name,
              }"
              @click="choose(shown[item.index]!, field.name)"
            >
              <template v-if="shown[item.index]!.changes.get(field.name)">
                <ChangeMark :change="shown[item.index]!.changes.get(field.name)!" />
                <template v-if="sheet.event !== 'create'"
                  ><s class="quiet">{{ show(shown[item.index]!.changes.get(field.name)!.from) }}</s> →</template
                >
                {{ show(shown[item.index]!.changes.get(field.name)!.to) }}
              </template>
              <span v-else class="quiet">{{
                show((shown[item.index]!.row.now ?? shown[item.index]!.row.was)?.[field.name])
              }}</span>
              <TypedOver
                v-if="shown[item.index]!.changes.get(field.name)?.overwrites !== undefined"
                :typed="shown[item.index]!.changes.get(field.name)!.overwrites!"
                :by="shown[item.index]!.changes.get(field.name)!.by"
              />
              <span v-if="rippledAt(shown[item.index]!, field.name)" class="later" :title="KIND_WORD.ripple">
                <span class="kind kind-ripple">{{ LETTER.ripple }}</span>
                {{ show(rippledAt(shown[item.index]!, field.name)!.to) }}
              </span>
              <span
                v-if="refusalAt(shown[item.index]!, field.name)"
                class="kind kind-refused"
                :title="refusalAt(shown[item.index]!, field.name)!.message"
                >×</span
              >
            </td>
          </tr>
          <tr v-if="below > 0" :style="{ height: `${below}px` }" aria-hidden="true">
            <td />
          </tr>
        </tbody>
      </table>
    </div>
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
tbody th {
  position: sticky;
  left: 0;
  background: rgb(var(--v-theme-surface));
  font-weight: 500;
}
td.state {
  max-width: 210px;
}
td.now {
  background: rgba(var(--v-theme-copper), 0.09);
}
td.here {
  background: rgba(var(--v-theme-copper), 0.26);
}
tbody th.focus {
  background: rgba(var(--v-theme-primary), 0.16);
  font-weight: 700;
}
tbody th button {
  font: inherit;
  color: inherit;
  width: 100%;
  text-align: left;
}
td.chosen {
  outline: 2px solid rgb(var(--v-theme-primary));
  outline-offset: -2px;
}
.later {
  margin-left: 6px;
  padding-right: 4px;
  border: 1px dashed rgb(var(--v-theme-success));
  border-radius: 3px;
}
tr.bad {
  background: rgba(var(--v-theme-error), 0.05);
}
</style>
