<script setup lang="ts">
import type { InputRow, RecordValues, SaveOutcome, Table, Value } from '@patient-hook/contract'
import { computed, ref, shallowRef, watch } from 'vue'
import BusyButton from '../../../components/BusyButton.vue'
import ChangeTable from '../../../components/ChangeTable.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { ApiError, api } from '../../../lib/api'
import { rowsAsCsv, rowsAsJson } from '../../../lib/copy-rows'
import { useAttempt } from '../../../lib/use-attempt'
import { useProject } from '../../../stores/project'
import FieldValues from '../../../components/fields/FieldValues.vue'
import { effectWords, removalWords } from '../../../lib/effect-words'

/** Actions on the selected records: copy, or change or remove them in one save after a preview. */
const props = defineProps<{
  table: Table
  ids: ReadonlySet<number>
  columns: readonly string[]
  /** The chosen records as they are stored now. */ read: (ids: readonly number[]) => Promise<RecordValues[]>
}>()
const emit = defineEmits<{ clear: []; saved: [outcome: SaveOutcome]; outcome: [outcome: SaveOutcome | null] }>()
const project = useProject()
const { error, busy, attempt } = useAttempt()
const doing = ref<'change' | 'remove' | null>(null)
const values = ref<Record<string, Value>>({})
const preview = shallowRef<{ rows: InputRow[]; outcome: SaveOutcome } | null>(null)
const copied = ref('')
/** Changes that are shown. */
const MOST = 200

const count = computed(() => (props.ids.size === 1 ? '1 record' : `${props.ids.size} records`))
const canLook = computed(() => doing.value === 'remove' || Object.keys(values.value).length > 0)
function forget(): void {
  preview.value = null
  error.value = null
  emit('outcome', null)
}
watch(() => [props.ids, values.value, doing.value], forget)
watch(
  () => props.table.name,
  () => ((doing.value = null), (values.value = {})),
)

const copy = (way: 'CSV' | 'JSON') =>
  attempt(async () => {
    const records = await props.read([...props.ids])
    await navigator.clipboard.writeText((way === 'CSV' ? rowsAsCsv : rowsAsJson)(records, props.columns))
    copied.value = `${records.length === 1 ? '1 record' : `${records.length} records`} copied as ${way}.`
  })

/** Each is refused where somebody else has changed since what is set here. */
function rowOf(record: RecordValues): InputRow {
  const [table, id] = [props.table.name, record.id as number]
  if (doing.value === 'remove')
    return {
      table,
      id,
      remove: true,
      expect: Object.fromEntries(props.table.fields.map(({ name }) => [name, record[name] ?? null])),
    }
  return {
    table,
    id,
    values: { ...values.value },
    expect: Object.fromEntries(Object.keys(values.value).map((name) => [name, record[name] ?? null])),
  }
}
const look = () =>
  attempt(async () => {
    preview.value = null
    const rows = (await props.read([...props.ids])).map(rowOf)
    const outcome = await api.rehearse(rows, project.user)
    preview.value = { rows, outcome }
    emit('outcome', outcome)
  })
const save = () =>
  attempt(async () => {
    const outcome = await api.save(preview.value!.rows, project.user)
    if (outcome.error) throw new ApiError(outcome.error)
    doing.value = null
    values.value = {}
    emit('saved', outcome)
  })
const refused = computed(() => preview.value?.outcome.error ?? null)
const written = computed(() => (preview.value?.outcome.rows ?? []).filter(({ changes }) => changes.length > 0))
</script>

<template>
  <section class="chosen line-b small" aria-label="Selected records">
    <div class="row">
      <strong>{{ count }} selected</strong>
      <v-btn variant="outlined" :disabled="busy" @click="copy('CSV')">Copy CSV</v-btn>
      <v-btn variant="outlined" :disabled="busy" @click="copy('JSON')">Copy JSON</v-btn>
      <v-btn
        variant="outlined"
        :active="doing === 'change'"
        :aria-pressed="doing === 'change'"
        @click="doing = doing === 'change' ? null : 'change'"
      >
        Change…
      </v-btn>
      <v-btn
        variant="outlined"
        :active="doing === 'remove'"
        :aria-pressed="doing === 'remove'"
        @click="doing = doing === 'remove' ? null : 'remove'"
      >
        Remove…
      </v-btn>
      <span class="fill quiet" role="status">{{ copied }}</span>
      <v-btn variant="outlined" @click="emit('clear')">Clear selection</v-btn>
    </div>
    <div v-if="doing" class="row wrap">
      <template v-if="doing === 'change'">
        <span>Set in each record</span>
        <FieldValues v-model="values" :table="table" />
      </template>
      <span v-else>All selected records are removed in one save.</span>
      <v-btn variant="outlined" color="primary" :disabled="busy || !canLook" @click="look">Preview</v-btn>
      <BusyButton
        v-if="preview"
        variant="flat"
        :color="doing === 'remove' ? 'error' : 'primary'"
        :busy="busy"
        :disabled="refused !== null"
        @click="save"
        >{{ doing === 'remove' ? `Remove ${count}` : `Save ${count}` }}</BusyButton
      >
    </div>
    <ErrorNote v-if="error ?? refused" :error="(error?.report ?? refused)!" />
    <template v-if="preview && !refused">
      <p role="status">{{ effectWords(preview.outcome) }} {{ doing === 'remove' ? removalWords(preview.outcome) : '' }}</p>
      <div class="scroll changes">
        <ChangeTable label="Preview" :records="written.slice(0, MOST)" :words="['is', 'would be']" rehearsed />
      </div>
      <p v-if="written.length > MOST" class="quiet">the first {{ MOST }} of {{ written.length }} records</p>
    </template>
  </section>
</template>

<style scoped>
.chosen {
  padding: 4px 10px;
  background: rgba(var(--v-theme-primary), 0.05);
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.wrap {
  flex-wrap: wrap;
  padding: 8px 0 4px;
}
.changes {
  max-height: 300px;
}
</style>
