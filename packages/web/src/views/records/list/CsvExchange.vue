<script lang="ts">
interface Unsaved {
  file: CsvFile
  known: Columns
  mapping: CsvMapping
  partial: boolean
}
/** By table: files that were chosen and neither saved nor discarded, for as long as the page lives. */
const unsaved = new Map<string, Unsaved>()
</script>

<script setup lang="ts">
import type { CsvColumns as Columns, CsvMapping, CsvResult, Table } from '@patient-hook/contract'
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import ChangeTable from '../../../components/ChangeTable.vue'
import FilePick from '../../../components/FilePick.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import IconButton from '../../../components/IconButton.vue'
import JobLine from '../../../components/JobLine.vue'
import { api, type CsvFile } from '../../../lib/api'
import { download } from '../../../lib/download'
import { importReport, importWord } from '../../../lib/import-report'
import { placeOf } from '../../../lib/text'
import { useAttempt } from '../../../lib/use-attempt'
import { useJob } from '../../../lib/use-job'
import { ICONS } from '../../../theme/icons'
import { useProject } from '../../../stores/project'
import CsvColumns from './CsvColumns.vue'

/**
 * A table's records as CSV, and rows of a CSV file through the save path: mapped and rehearsed first, then kept in one save; those of a
 * large file batch by batch.
 */
const props = defineProps<{ table: Table }>()
const emit = defineEmits<{ saved: [] }>()
const project = useProject()
const file = shallowRef<CsvFile | null>(null)
const known = shallowRef<Columns | null>(null)
const mapping = ref<CsvMapping>({})
const { error, busy, attempt } = useAttempt()
const { results, job, error: failed, running, begin, stop } = useJob('csv')
const partial = ref(false)
/** What was rehearsed last; it is shown as long as it is what would be kept. */
const rehearsed = ref('')
const keeping = ref(false)
/** A large file that did not come to its end. */
const stopped = shallowRef<CsvResult | null>(null)
/** The import that has just ended. */
const finished = shallowRef<CsvResult | null>(null)
const MOST = 8

const asked = computed(() => JSON.stringify([file.value?.text.length, mapping.value, partial.value, project.user]))
const result = computed<CsvResult | null>(() =>
  file.value && rehearsed.value === asked.value && !running.value ? (results.value?.[0] ?? null) : null,
)
const good = computed(() => (result.value ? result.value.created + result.value.changed + result.value.same : 0))
const isMapped = computed(() => Object.values(mapping.value).some((use) => use !== null))

const csvOut = (safe: boolean) =>
  attempt(async () => {
    const { name, text } = await api.tableCsv(props.table.name, safe)
    download(name, text, 'text/csv')
  })
const saveReport = (of: CsvResult) => download(`${props.table.name}-import.csv`, importReport(of), 'text/csv')
async function choose(chosen: File): Promise<void> {
  close()
  await attempt(async () => {
    const given = { file: chosen.name, text: await chosen.text() }
    const columns = await api.readCsvColumns(props.table.name, given)
    file.value = given
    known.value = columns
    mapping.value = Object.fromEntries(columns.columns.map(({ head, field }) => [head, field === null ? null : { field }]))
  })
}
const send = (dry: boolean) =>
  begin(() =>
    api.importCsv(props.table.name, {
      ...file.value!,
      columns: mapping.value,
      user: project.user,
      partial: partial.value,
      dry,
    }),
  )
function rehearse(): void {
  rehearsed.value = asked.value
  keeping.value = false
  void send(true)
}
function keep(): void {
  keeping.value = true
  void send(false)
}
watch([running, results], ([isRunning]) => {
  const [kept] = results.value ?? []
  if (isRunning || !keeping.value || !kept) return
  keeping.value = false
  if (kept.save === null && kept.backfill === null) return
  close()
  if (kept.backfill !== null && (kept.error || handled(kept) < kept.rows)) stopped.value = kept
  else finished.value = kept
  emit('saved')
})
/** Rows that were saved or left out. */
const handled = ({ created, changed, same, refused }: CsvResult): number => created + changed + same + refused
function close(): void {
  stopped.value = null
  finished.value = null
  file.value = null
  known.value = null
  error.value = null
  failed.value = null
  rehearsed.value = ''
}
/** A file that was chosen waits for its table to be looked at again. */
watch(
  () => props.table.name,
  (table, before) => {
    if (before !== undefined) leave(before)
    const waiting = unsaved.get(table)
    if (!waiting) return
    unsaved.delete(table)
    file.value = waiting.file
    known.value = waiting.known
    mapping.value = waiting.mapping
    partial.value = waiting.partial
  },
  { immediate: true },
)
function leave(table: string): void {
  if (file.value && known.value && !keeping.value)
    unsaved.set(table, { file: file.value, known: known.value, mapping: mapping.value, partial: partial.value })
  close()
}
onBeforeUnmount(() => leave(props.table.name))
</script>

<template>
  <span class="row">
    <v-menu>
      <template #activator="{ props: activator }">
        <v-btn v-bind="activator" variant="outlined" :disabled="busy" :append-icon="ICONS.open">Export</v-btn>
      </template>
      <v-list role="menu" aria-label="Export">
        <v-list-item
          role="menuitem"
          title="Export CSV for spreadsheets"
          subtitle="formulas are escaped with an apostrophe"
          @click="csvOut(true)"
        />
        <v-list-item role="menuitem" title="Export CSV unchanged" subtitle="for importing again" @click="csvOut(false)" />
      </v-list>
    </v-menu>
    <FilePick word="Import…" label="CSV file" accept=".csv,.tsv,.txt" @file="choose" />
  </span>
  <p v-if="stopped" class="small" role="status">
    Stopped after {{ handled(stopped) }} of {{ stopped.rows }} rows<template v-if="stopped.error"
      >: {{ stopped.error.message }}</template
    >.
    <router-link class="link" :to="{ name: 'backfills', params: { id: String(stopped.backfill) } }"
      >Resume or undo it</router-link
    >
  </p>
  <p v-if="finished" class="small" role="status">
    {{ importWord(finished) }}.
    <v-btn @click="saveReport(finished)">Download report</v-btn>
    <IconButton :icon="ICONS.close" label="Dismiss" @click="finished = null" />
  </p>
  <section v-if="file || error" class="panel line-b small" aria-label="Import CSV">
    <ErrorNote v-if="error ?? failed" :error="(error ?? failed)!.report" />
    <template v-if="file && known">
      <p>
        <strong>{{ file.file }}</strong>, {{ known.rows === 1 ? '1 row' : `${known.rows} rows` }}. Rows with an id update that
        record. Other rows create records.
      </p>
      <CsvColumns v-model="mapping" :table="table" :columns="known.columns" />
      <v-checkbox v-model="partial" label="Import valid rows even if others are refused" />
      <JobLine :job="job" :running="running" :label="keeping ? 'Rows saved' : 'Rows rehearsed'" of="rows" @stop="stop" />
    </template>
    <template v-if="result">
      <p v-if="!result.error" role="status">
        {{ good }} of {{ result.rows }} rows would be saved: {{ result.created }} new, {{ result.changed }} changed,
        {{ result.same }} as they are; {{ result.ripples }} other {{ result.ripples === 1 ? 'record' : 'records' }} with them.
      </p>
      <p v-else class="refused" role="status">This import would fail.</p>
      <ul v-if="result.refusals.length" class="refused">
        <li v-for="(refusal, index) in result.refusals.slice(0, MOST)" :key="index">
          row {{ refusal.row }}: {{ refusal.message }}
          <span class="quiet">{{ [refusal.hook, placeOf(refusal)].filter((part) => part).join(' · ') }}</span>
        </li>
        <li v-if="result.refused > MOST">and {{ result.refused - MOST }} more</li>
      </ul>
      <ErrorNote v-else-if="result.error" :error="result.error" />
      <div v-if="result.records.length && !result.error" class="scroll changes">
        <ChangeTable label="Preview" :records="result.records" :words="['is', 'would be']" rehearsed />
      </div>
    </template>
    <span class="row buttons">
      <v-btn v-if="file" variant="outlined" color="primary" :disabled="running || !isMapped" @click="rehearse">Preview</v-btn>
      <v-btn
        v-if="file"
        variant="flat"
        color="primary"
        :disabled="running || !result || Boolean(result.error) || good === 0"
        @click="keep"
        >Import rows</v-btn
      >
      <v-btn v-if="result?.refusals.length" @click="saveReport(result)">Download report</v-btn>
      <v-btn @click="close">{{ file ? `Discard ${file.file}` : 'Close' }}</v-btn>
    </span>
  </section>
</template>

<style scoped>
.panel {
  flex-basis: 100%;
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 6px;
  white-space: normal;
  padding: 6px 0;
  max-height: 60vh;
  overflow: auto;
}
.panel ul {
  padding-left: 16px;
}
.buttons {
  position: sticky;
  bottom: -6px;
  padding: 6px 0;
  background: rgb(var(--v-theme-background));
}
.changes {
  max-height: 220px;
  flex-shrink: 0;
}
</style>
