<script setup lang="ts">
import type { ErrorReport, FullRecord, InputRow, SaveOutcome, Table, Value } from '@patient-hook/contract'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import BusyButton from '../../components/BusyButton.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import { ApiError, api } from '../../lib/api'
import { useProject } from '../../stores/project'
import RecordForm from '../../components/RecordForm.vue'
import HistoryList from './HistoryList.vue'

/** One record: its form, what hooks would set before it is saved, and its history. Saving runs the saved hooks. */
const props = defineProps<{ table: Table; id: number | null }>()
const emit = defineEmits<{ saved: [id: number]; removed: []; close: []; outcome: [outcome: SaveOutcome | null] }>()
const project = useProject()

const full = shallowRef<FullRecord | null>(null)
const values = ref<Record<string, Value>>({})
const error = shallowRef<ErrorReport | null>(null)
const preview = shallowRef<SaveOutcome | null>(null)
const saving = ref(false)

async function load(): Promise<void> {
  error.value = null
  preview.value = null
  try {
    full.value = props.id === null ? null : await api.record(props.table.name, props.id)
  } catch (thrown) {
    if (!(thrown instanceof ApiError)) throw thrown
    full.value = null
    error.value = thrown.report
  }
  const record = full.value?.record
  values.value = Object.fromEntries(props.table.fields.map((field) => [field.name, record?.[field.name] ?? null]))
}
watch(() => [props.table.name, props.id], load, { immediate: true })

/** Only what was typed is saved, so that a hook sees what the user changed. */
const typed = computed(() =>
  Object.fromEntries(Object.entries(values.value).filter(([name, value]) => value !== (full.value?.record[name] ?? null))),
)
const changed = computed(() => Object.keys(typed.value).length > 0)
const row = computed((): InputRow => ({
  table: props.table.name,
  values: typed.value,
  ...(props.id === null ? {} : { id: props.id }),
}))

let going: AbortController | null = null
watchDebounced(
  row,
  async () => {
    going?.abort()
    going = new AbortController()
    if (!changed.value) {
      preview.value = null
      emit('outcome', null)
      return
    }
    try {
      preview.value = await api.rehearse([row.value], project.user, going.signal)
      emit('outcome', preview.value)
    } catch (thrown) {
      if (thrown instanceof ApiError) preview.value = null
      else if ((thrown as Error).name !== 'AbortError') throw thrown
    }
  },
  { debounce: 200, deep: true },
)

const refusals = computed<ErrorReport[]>(() => (error.value ? (error.value.refusals ?? [error.value]) : []))
const elsewhere = computed(() =>
  refusals.value.find((each) => !each.field || each.table !== props.table.name || !(each.field in values.value)),
)

const rehearsed = computed(() => preview.value?.rows.find((each) => each.depth === 0))
const warning = computed(() => (error.value ? null : (preview.value?.error ?? null)))

async function save(): Promise<void> {
  saving.value = true
  try {
    const outcome = await api.save([row.value], project.user)
    emit('outcome', outcome)
    const id = outcome.records[0]?.id ?? props.id
    if (props.id !== null) await load()
    if (id !== null) emit('saved', id)
  } catch (thrown) {
    if (!(thrown instanceof ApiError)) throw thrown
    error.value = thrown.report
  } finally {
    saving.value = false
  }
}

async function remove(): Promise<void> {
  if (props.id === null) return
  try {
    emit('outcome', await api.save([{ table: props.table.name, values: {}, id: props.id, remove: true }], project.user))
    emit('removed')
  } catch (thrown) {
    if (!(thrown instanceof ApiError)) throw thrown
    error.value = thrown.report
  }
}
const asking = ref(false)
watch(values, () => (error.value = null), { deep: true })
</script>

<template>
  <form class="panel column" @submit.prevent="save" @keydown.ctrl.enter.prevent="save">
    <header class="row line-b">
      <strong>{{ table.label }} {{ id ?? '(new)' }}</strong>
      <span class="fill" />
      <v-btn size="small" type="button" @click="emit('close')">Close</v-btn>
      <template v-if="id !== null && full">
        <v-btn v-if="!asking" size="small" type="button" @click="asking = true">Remove…</v-btn>
        <v-btn v-else size="small" type="button" color="error" @click="remove">Remove {{ table.name }} {{ id }}</v-btn>
      </template>
      <BusyButton variant="flat" color="primary" type="submit" :disabled="!changed" :busy="saving">Save</BusyButton>
    </header>
    <ErrorNote v-if="elsewhere" :error="elsewhere" />
    <div v-if="warning" class="warning small">
      <span class="kind kind-refused">×</span> would be refused: {{ warning.message }}
    </div>
    <div v-if="id === null || full" class="fields scroll fill">
      <RecordForm
        v-model="values"
        :table="table"
        :labels="full?.labels ?? {}"
        :refusals="refusals.filter((each) => each.table === table.name)"
        :row="rehearsed"
      />
      <HistoryList v-if="full" :entries="full.history" />
    </div>
  </form>
</template>

<style scoped>
.panel {
  height: 100%;
  background: rgb(var(--v-theme-surface));
}
header {
  padding: 4px 10px;
  flex-wrap: wrap;
}
.fields {
  padding: 12px;
}
.warning {
  padding: 4px 12px;
  background: rgba(var(--v-theme-error), 0.07);
}
</style>
