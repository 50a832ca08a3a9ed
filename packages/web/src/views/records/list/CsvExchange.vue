<script setup lang="ts">
import type { SaveOutcome, Table } from '@patient-hook/contract'
import { computed, ref, shallowRef, watch } from 'vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { ApiError, api } from '../../../lib/api'
import { download } from '../../../lib/download'
import { useAttempt } from '../../../lib/use-attempt'
import { useProject } from '../../../stores/project'

/** A table's records as CSV, and rows of a CSV file through the save path: rehearsed first, then kept in one save. */
const props = defineProps<{ table: Table }>()
const emit = defineEmits<{ saved: [] }>()
const project = useProject()
const file = shallowRef<{ name: string; text: string } | null>(null)
const outcome = shallowRef<SaveOutcome | null>(null)
const { error, busy, attempt } = useAttempt()
const partial = ref(false)

const good = computed(() => outcome.value?.records.filter((record) => record !== null).length ?? 0)
const refusals = computed(() => outcome.value?.refusals ?? [])
const MOST = 8

const csvOut = () =>
  attempt(async () => {
    const { name, text } = await api.tableCsv(props.table.name)
    download(name, text, 'text/csv')
  })
const send = (dry: boolean) =>
  api.importCsv(props.table.name, {
    file: file.value!.name,
    text: file.value!.text,
    user: project.user,
    partial: partial.value,
    dry,
  })
const rehearse = () =>
  attempt(async () => {
    outcome.value = null
    outcome.value = await send(true)
  })
async function choose(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [chosen] = input.files ?? []
  input.value = ''
  if (!chosen) return
  file.value = { name: chosen.name, text: await chosen.text() }
  await rehearse()
}
const keep = () =>
  attempt(async () => {
    const kept = await send(false)
    if (kept.error) throw new ApiError(kept.error)
    close()
    emit('saved')
  })
function close(): void {
  file.value = null
  outcome.value = null
  error.value = null
}
watch(() => props.table.name, close)
watch(partial, () => file.value && rehearse())
</script>

<template>
  <span class="row">
    <button type="button" class="toggle" :disabled="busy" @click="csvOut">CSV out</button>
    <label class="toggle pick">CSV in<input type="file" accept=".csv" aria-label="CSV file" @change="choose" /></label>
  </span>
  <section v-if="file || error" class="panel line-b small" aria-label="CSV in">
    <ErrorNote v-if="error" :error="error.report" />
    <template v-if="file">
      <strong>{{ file.name }}</strong>
      <span v-if="busy" role="status">Rehearsing a save of its rows…</span>
      <span v-if="outcome && !outcome.error" role="status">
        {{ good }} of {{ outcome.records.length }} rows would be saved, with
        {{ outcome.spent.ripples === 0 ? 'no ripples' : `ripples ${outcome.spent.ripples} deep` }}.
      </span>
      <span v-if="outcome?.error" class="refused" role="status">Nothing would be kept.</span>
      <label><input v-model="partial" type="checkbox" /> keep the good rows when others are refused</label>
      <ul v-if="refusals.length" class="refused">
        <li v-for="(refusal, index) in refusals.slice(0, MOST)" :key="index">row {{ refusal.row }}: {{ refusal.message }}</li>
        <li v-if="refusals.length > MOST">and {{ refusals.length - MOST }} more</li>
      </ul>
    </template>
    <span class="row">
      <v-btn
        v-if="file"
        size="small"
        variant="flat"
        color="primary"
        :disabled="busy || !outcome || Boolean(outcome.error) || good === 0"
        @click="keep"
        >Save them</v-btn
      >
      <v-btn size="small" @click="close">Close</v-btn>
    </span>
  </section>
</template>

<style scoped>
.pick {
  cursor: pointer;
}
.pick input {
  position: absolute;
  opacity: 0;
  width: 1px;
}
.pick:focus-within {
  outline: 2px solid rgb(var(--v-theme-primary));
}
.panel {
  flex-basis: 100%;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
  white-space: normal;
  padding: 4px 0;
}
.panel ul {
  flex-basis: 100%;
  padding-left: 16px;
}
</style>
