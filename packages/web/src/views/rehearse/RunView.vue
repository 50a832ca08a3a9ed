<script setup lang="ts">
import type { Place, Rehearsal, RowOut } from '@patient-hook/contract'
import { BUDGETS } from '@patient-hook/contract'
import { linesOf } from '@patient-hook/core/lines'
import { computed } from 'vue'
import type { GridColumn } from '../../components/grid/columns'
import DataGrid from '../../components/grid/DataGrid.vue'
import ValueMark from '../../components/ValueMark.vue'
import CopyJson from '../../components/CopyJson.vue'
import TypedOver from '../../components/TypedOver.vue'
import type { TriedGround } from '../../lib/api'
import { lineValues } from '../../lib/line-values'
import { refusedAt, type Station } from '../../lib/path-counts'
import { groupVerdicts } from '../../lib/run/verdict-groups'
import { isSet, show } from '../../lib/text'
import { useTitles } from '../../lib/use-titles'
import { useProject } from '../../stores/project'
import FoundRecords from './FoundRecords.vue'
import PlainTable from '../../components/grid/PlainTable.vue'

/** The run, station by station: who ran and why not, what was looked up, set, refused, sent, and spent. */
const props = defineProps<{ run: Rehearsal; station: Station | null; ground: TriedGround }>()
const emit = defineEmits<{ place: [place: Place]; hook: [hook: string] }>()
const project = useProject()
const { titleOfRow, titlesAmong } = useTitles()
const titleAmong = computed(() => titlesAmong(props.run.rows))

const moment = (hook: string) => project.hook(hook)?.moment
const shows = (...stations: Station[]) => props.station === null || stations.includes(props.station)
const ofMoment = (hook: string) => props.station === null || props.station === 'ripples' || moment(hook) === props.station
const verdicts = computed(() =>
  groupVerdicts(
    props.run.verdicts.filter((each) => (props.station === 'ripples' ? each.depth > 0 : ofMoment(each.hook))),
    project.hooks,
  ),
)
const lookups = computed(() => props.run.lookups.filter((each) => ofMoment(each.hook)))
/** What each line came to, for the rows that are traced line by line: loops with their count, values first and last. */
const MOST_LINES = 300
const traces = computed(() => {
  const all = props.run.log ? linesOf(props.run.log).filter((each) => ofMoment(each.hook)) : []
  const files = new Map(all.map(({ hook, file }) => [`${hook} ${file}`, { hook, file }]))
  return [...files.values()]
    .flatMap(({ hook, file }) => lineValues(all, file, hook).map((each) => ({ ...each, hook, file })))
    .slice(0, MOST_LINES)
})
const refusals = computed(() =>
  props.run.refusals.filter((each) => props.station === null || refusedAt(each, project.hooks) === props.station),
)

interface Line {
  row: RowOut
  change: RowOut['changes'][number] | null
}
/** One line for each value, ripples indented below the rows that were typed. */
const lines = computed<Line[]>(() => {
  const rows = props.run.rows.filter((row) =>
    props.station === 'ripples' ? row.depth > 0 : props.station === null || row.depth === 0,
  )
  return rows.flatMap((row): Line[] => {
    const changes = row.changes.filter((change) => {
      if (props.station === 'typed') return change.kind === 'typed'
      if (props.station === 'before-save') return moment(change.by) === 'before-save'
      return true
    })
    return changes.length > 0 ? changes.map((change) => ({ row, change })) : [{ row, change: null }]
  })
})
const COLUMNS: GridColumn[] = [
  { key: 'record', title: 'record', heading: true },
  { key: 'field', title: 'field' },
  { key: 'was', title: 'was' },
  { key: 'now', title: 'now' },
  { key: 'by', title: 'by' },
]
function textAt(index: number, key: string): string {
  const { row, change } = lines.value[index]!
  if (key === 'record') return titleOfRow(row)
  if (!change) return key === 'field' ? 'no changes' : ''
  return key === 'field' ? change.field : key === 'by' ? change.by : show(key === 'was' ? change.from : change.to)
}

const WORDS = {
  queries: 'queries',
  rowsRead: 'rows read',
  rowsWritten: 'rows written',
  steps: 'steps',
  ripples: 'ripple depth',
  ms: 'ms',
}
const bars = computed(() =>
  BUDGETS.map((budget) => {
    const limit = props.run.limits[budget] ?? 0
    const spent = props.run.spent[budget] ?? 0
    return { budget, word: WORDS[budget], spent, limit, part: limit > 0 ? Math.min(100, (spent / limit) * 100) : 0 }
  }),
)
const ids = (all: readonly { table: string; id: number }[]) =>
  all
    .slice(0, 8)
    .map((each) => titleAmong.value(each.table, each.id))
    .join(', ') + (all.length > 8 ? ` and ${all.length - 8} more` : '')
</script>

<template>
  <div class="scroll run" tabindex="0" aria-label="The run">
    <section v-if="refusals.length" aria-label="Refusals">
      <h3>Refused</h3>
      <p v-for="(each, index) in refusals.slice(0, 100)" :key="index" class="refused">
        × <span v-if="each.row" class="quiet">row {{ each.row }}</span> {{ each.message }}
        <v-btn v-if="each.hook" class="link" @click="emit('hook', each.hook)">{{ each.hook }}</v-btn>
        <v-btn v-if="each.file && each.line" class="link" @click="emit('place', { file: each.file, line: each.line })">
          line {{ each.line }}
        </v-btn>
      </p>
    </section>
    <section v-if="shows('before-save', 'after-save', 'ripples', 'before-commit')" aria-label="Verdicts">
      <h3>Hooks</h3>
      <p v-if="verdicts.length === 0" class="quiet">No hooks at this station.</p>
      <div v-for="(group, index) in verdicts" :key="index" class="verdict" :style="{ paddingLeft: `${group.depth * 16}px` }">
        <b :class="group.verdict === 'ran' ? 'copper' : 'quiet'">{{ group.verdict }}</b>
        <v-btn class="link" @click="emit('hook', group.hook)">{{ group.hook }}</v-btn>
        <span class="quiet small">{{ group.moment }}</span>
        <span>{{ ids(group.all) }}</span>
        <span v-if="group.reason" class="quiet">{{ group.reason }}</span>
        <span v-if="group.all.length === 1 && group.all[0]!.read" class="small">
          with
          <template v-for="(value, name, at) in group.all[0]!.read" :key="name"
            >{{ at ? ', ' : '' }}<span class="mono">{{ name }}</span> {{ show(value) }}</template
          >
        </span>
        <span v-if="group.all.length === 1 && group.all[0]!.changed?.length" class="small"
          >changed: <span class="mono">{{ group.all[0]!.changed!.join(', ') }}</span></span
        >
      </div>
    </section>
    <section v-if="lookups.length && shows('before-save', 'after-save', 'ripples', 'before-commit')" aria-label="Look-ups">
      <h3>Look-ups</h3>
      <div
        v-for="(each, index) in lookups.slice(0, 200)"
        :key="index"
        class="verdict"
        :style="{ paddingLeft: `${each.depth * 16}px` }"
      >
        <FoundRecords :lookup="each" :ground="ground" />
        <span class="mono">{{ each.call }} {{ each.table }}</span>
        <span class="quiet small">by {{ each.hook }}, {{ each.part }}</span>
        <span class="mono small asked" :title="JSON.stringify(each.asked)">{{ JSON.stringify(each.asked) }}</span>
        <CopyJson :value="each.asked" />
      </div>
    </section>
    <section v-if="traces.length && shows('before-save', 'after-save', 'ripples', 'before-commit')" aria-label="Lines">
      <h3>Lines</h3>
      <PlainTable label="Lines">
        <tbody>
          <tr v-for="trace in traces" :key="`${trace.hook} ${trace.file} ${trace.line} ${trace.title}`">
            <td>
              <v-btn class="link" @click="emit('place', { file: trace.file, line: trace.line })">
                {{ trace.hook }}:{{ trace.line }}
              </v-btn>
            </td>
            <td class="copper" :title="trace.title">{{ trace.text }}</td>
          </tr>
        </tbody>
      </PlainTable>
    </section>
    <section v-if="shows('typed', 'before-save', 'checks', 'write', 'ripples', 'commit')" aria-label="Values">
      <h3>Values</h3>
      <p v-if="lines.length === 0" class="quiet">{{ station === 'ripples' ? 'No ripples.' : 'No rows.' }}</p>
      <DataGrid v-else label="Values set" class="values" :columns="COLUMNS" :count="lines.length" :cell-text="textAt" ranged>
        <template #cell="{ row, column }">
          <template v-if="column.key === 'record'">
            <span v-if="lines[row]!.row.depth" class="quiet" :title="`ripple, depth ${lines[row]!.row.depth}`">{{
              '↳'.repeat(lines[row]!.row.depth)
            }}</span>
            {{ textAt(row, 'record') }} <span class="quiet small">{{ lines[row]!.row.event }}</span>
          </template>
          <template v-else-if="column.key === 'by' && lines[row]!.change">
            <v-btn
              v-if="lines[row]!.change!.at"
              class="link"
              :title="`${lines[row]!.change!.at!.file}, line ${lines[row]!.change!.at!.line}`"
              @click="emit('place', lines[row]!.change!.at!)"
              >{{ lines[row]!.change!.by }}:{{ lines[row]!.change!.at!.line }}</v-btn
            >
            <span v-else class="quiet">{{ lines[row]!.change!.by }}</span>
            <CopyJson class="on-row" :value="lines[row]!.change!.to" />
          </template>
          <template v-else>
            <ValueMark
              v-if="column.key === 'now' && lines[row]!.change && isSet(lines[row]!.change!)"
              :kind="lines[row]!.change!.kind"
            />
            <span :class="{ quiet: column.key === 'was' || !lines[row]!.change }">{{ textAt(row, column.key) }}</span>
            <TypedOver
              v-if="column.key === 'now' && lines[row]!.change?.overwrites !== undefined"
              :typed="lines[row]!.change!.overwrites!"
              :by="lines[row]!.change!.by"
            />
          </template>
        </template>
      </DataGrid>
    </section>
    <section v-if="run.sent.length && shows('after-save', 'commit')" aria-label="Messages">
      <h3>Messages that would be sent</h3>
      <p v-for="(each, index) in run.sent" :key="index">
        <span class="mono">{{ each.channel }}</span> <span class="quiet small">by {{ each.hook }}</span>
        <span class="mono small">{{ JSON.stringify(each.message) }}</span> <CopyJson :value="each.message" />
      </p>
    </section>
    <section v-if="run.logs.length" aria-label="Log lines">
      <h3>Log</h3>
      <p v-for="(each, index) in run.logs.slice(0, 200)" :key="index">
        <span class="quiet small">{{ each.hook }} {{ titleAmong(each.table, each.id) }}</span>
        <span class="mono">{{ each.text }}</span>
      </p>
    </section>
    <section v-if="shows('commit')" aria-label="Spent">
      <h3>Spent</h3>
      <div v-for="bar in bars" :key="bar.budget" class="bar">
        <span>{{ bar.word }}</span>
        <span class="track" role="img" :aria-label="`${bar.spent} of ${bar.limit} ${bar.word}`"
          ><i :style="{ width: `${bar.part}%` }"
        /></span>
        <span class="mono small"
          >{{ bar.spent }}<span class="quiet"> of {{ bar.limit }}</span></span
        >
      </div>
    </section>
  </div>
</template>

<style scoped>
.run {
  height: 100%;
  padding: 4px 14px 18px;
}
.values {
  max-height: 60vh;
}
h3 {
  font-size: 13px;
  font-weight: 650;
  padding: 10px 0 3px;
}
.verdict {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 8px;
  padding-top: 1px;
}
.asked {
  max-width: 42ch;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.link {
  text-decoration: underline;
  color: rgb(var(--v-theme-primary));
}
.bar {
  display: grid;
  grid-template-columns: 96px 180px 1fr;
  gap: 10px;
  align-items: center;
}
.track {
  height: 7px;
  background: rgb(var(--v-theme-line));
  border-radius: 3px;
  overflow: hidden;
}
.track i {
  display: block;
  height: 100%;
  min-width: 1px;
  background: rgb(var(--v-theme-primary));
}
.on-row {
  margin-left: 8px;
  opacity: 0;
}
tr:hover .on-row,
.on-row:focus-visible {
  opacity: 1;
}
</style>
