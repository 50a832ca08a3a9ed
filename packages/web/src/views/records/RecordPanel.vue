<script setup lang="ts">
import type { ErrorReport, SaveOutcome, Table } from '@patient-hook/contract'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import BusyButton from '../../components/BusyButton.vue'
import DocumentForm from '../../components/document/DocumentForm.vue'
import { useDocument } from '../../components/document/use-document'
import ErrorNote from '../../components/ErrorNote.vue'
import ValueMark from '../../components/ValueMark.vue'
import { ApiError, api, type TriedGround } from '../../lib/api'
import { useNotices } from '../../stores/notices'
import { useProject } from '../../stores/project'
import { changedSince, draftKey, useRecordDrafts, type ChangedSince } from '../../stores/record-drafts'
import { removalWords } from '../../lib/effect-words'
import { useTitles } from '../../lib/use-titles'
import HistoryList from './HistoryList.vue'
import WhyPanel from './WhyPanel.vue'

/** One record with what belongs to it, saved together: what hooks would set before it is saved, and its history. Saving runs the saved hooks. */
const props = defineProps<{
  table: Table
  id: number | null
  /** The field of which it is shown why it is what it is. */ why: string | null
}>()
const emit = defineEmits<{
  saved: [id: number]
  removed: []
  close: []
  outcome: [outcome: SaveOutcome | null]
  why: [field: string | null]
}>()
const project = useProject()
const notices = useNotices()

const ground = ref<TriedGround>({})
const document = useDocument(ground)
const { rows, inputs } = document
const head = computed(() => rows.value[0])
const error = shallowRef<ErrorReport | null>(null)
const { titleOf } = useTitles()
const title = computed(() => titleOf(props.table.name, props.id, head.value?.stored?.record ?? null))
const preview = shallowRef<SaveOutcome | null>(null)
const saving = ref(false)
const fail = (thrown: unknown) => {
  if (!(thrown instanceof ApiError)) throw thrown
  error.value = thrown.report
}

const drafts = useRecordDrafts()
/** The record whose rows is in the form; null while they are read. */
const shown = ref<string | null>(null)
/** What is typed was typed before, and kept; and what others have changed of it since. */
const restored = shallowRef<{ since: ChangedSince[] } | null>(null)

/** In sequence: otherwise a record that is left while it loads would appear in the form of the next one. */
let loading = Promise.resolve()
function load(): Promise<void> {
  shown.value = null
  rows.value = []
  loading = loading.then(read)
  return loading
}
async function read(): Promise<void> {
  error.value = null
  preview.value = null
  restored.value = null
  rows.value = []
  const key = draftKey(props.table.name, props.id)
  const draft = drafts.of(key)
  try {
    if (draft) {
      await document.take(draft.inputs)
      const [first] = rows.value
      restored.value = { since: first?.stored ? changedSince(draft.inputs[0], first.stored.record) : [] }
    } else if (props.id === null) document.addNew(props.table)
    else await document.add(props.table, props.id)
  } catch (thrown) {
    fail(thrown)
    if (draft) restored.value = { since: [] }
  }
  if (key === draftKey(props.table.name, props.id)) shown.value = key
}
async function discard(): Promise<void> {
  const key = draftKey(props.table.name, props.id)
  const draft = drafts.of(key)
  drafts.drop(key)
  await load()
  if (draft)
    notices.say(`Discarded the changes to ${title.value}`, () => {
      drafts.keep(key, draft)
      if (key === draftKey(props.table.name, props.id)) void load()
    })
}
watch(() => [props.table.name, props.id], load, { immediate: true })

/** A row that only stands there to be looked at is not saved. */
const changed = computed(() =>
  inputs.value.filter((input) => input.remove || input.copyOf !== undefined || input.id === undefined || hasValues(input.values)),
)
const hasValues = (values: object | undefined) => Object.keys(values ?? {}).length > 0
/** A new record in which nothing is typed yet is nothing to save. */
const isBlank = computed(() => props.id === null && rows.value.length === 1 && !hasValues(inputs.value[0]?.values))
const canSave = computed(() => changed.value.length > 0 && !isBlank.value)
/** Rows of the save are counted without those that are left out. */
const sent = computed(() => inputs.value.flatMap((input, index) => (changed.value.includes(input) ? [index + 1] : [])))
const asShown = <T extends { row?: number }>(each: T): T => ({
  ...each,
  row: each.row ? (sent.value[each.row - 1] ?? each.row) : each.row,
})

function remember(): void {
  // Of a record that is gone what was typed stays until it is discarded.
  if (shown.value === null || rows.value.length === 0) return
  if (canSave.value) drafts.keep(shown.value, { inputs: inputs.value.map(document.expecting) })
  else drafts.drop(shown.value)
}
watch(() => JSON.stringify(changed.value), remember)

let going: AbortController | null = null
watchDebounced(
  () => JSON.stringify([changed.value, project.user]),
  async () => {
    going?.abort()
    going = new AbortController()
    if (!canSave.value) {
      preview.value = null
      emit('outcome', null)
      return
    }
    try {
      preview.value = await api.rehearse(changed.value, project.user, going.signal)
      emit('outcome', preview.value)
    } catch (thrown) {
      if (thrown instanceof ApiError) preview.value = null
      else if ((thrown as Error).name !== 'AbortError') throw thrown
    }
  },
  { debounce: 200 },
)

/** Refusals of the last try to save; before it those of the preview, but for what is still to be filled in. */
const refusals = computed<ErrorReport[]>(() => {
  if (error.value) return (error.value.refusals ?? [error.value]).map(asShown)
  return (preview.value?.refusals ?? []).filter(({ code, field }) => code !== 'check/required' && field).map(asShown)
})
const outcomes = computed(() => (preview.value?.rows ?? []).map(asShown))
/** What is at no field of the form. */
const elsewhere = computed(() =>
  refusals.value.find(({ row, table, field }) => {
    const draft = row ? rows.value[row - 1] : undefined
    return !field || !draft || draft.table !== table || !(field in draft.values)
  }),
)
const warning = computed(() => (error.value ? null : (preview.value?.error ?? null)))

const isOutdated = computed(() => refusals.value.some(({ code }) => code === 'save/changed-since'))
/** Shows what others have changed, and keeps what is typed here. */
async function refresh(): Promise<void> {
  try {
    await document.refresh()
    error.value = null
    remember()
  } catch (thrown) {
    fail(thrown)
  }
}

async function save(): Promise<void> {
  if (!canSave.value) return
  saving.value = true
  try {
    const outcome = await api.save(changed.value.map(document.expecting), project.user)
    emit('outcome', outcome)
    drafts.drop(draftKey(props.table.name, props.id))
    const isGone = head.value?.mode === 'remove'
    const id = (changed.value[0] === inputs.value[0] ? outcome.records[0]?.id : undefined) ?? props.id
    if (isGone) return emit('removed')
    if (id === props.id) await load()
    if (id !== null) emit('saved', id)
  } catch (thrown) {
    fail(thrown)
  } finally {
    saving.value = false
  }
}
watch(inputs, (after, before) => {
  if (JSON.stringify(after) !== JSON.stringify(before)) error.value = null
})
</script>

<template>
  <form class="panel column" @submit.prevent="save" @keydown.ctrl.enter.prevent="save">
    <header class="row line-b">
      <strong>{{ title }}</strong>
      <span v-if="changed.length > 1" class="quiet small">{{ changed.length }} records in one save</span>
      <span class="fill" />
      <v-btn type="button" @click="emit('close')">Close</v-btn>
      <BusyButton
        variant="flat"
        :color="head?.mode === 'remove' ? 'error' : 'primary'"
        type="submit"
        :disabled="!canSave"
        :busy="saving"
        >{{ head?.mode === 'remove' ? `Remove ${title}` : 'Save' }}</BusyButton
      >
    </header>
    <ErrorNote v-if="elsewhere" :error="elsewhere" />
    <div v-if="restored" class="kept small" role="status">
      <span>
        You have unsaved changes here.
        <template v-for="{ field, value } in restored.since" :key="field">
          {{ table.fields.find((each) => each.name === field)?.label ?? field }} was changed by another user. It is now
          {{ value === null ? 'empty' : value }} now.
        </template>
      </span>
      <v-btn type="button" @click="discard">Discard changes</v-btn>
    </div>
    <div v-if="isOutdated" class="warning small" role="status">
      Another user changed this record. Your changes were not saved.
      <v-btn variant="outlined" @click="refresh">Reload record</v-btn>
      Your changes are kept in the form.
    </div>
    <div v-if="preview && head?.mode === 'remove' && !warning" class="warning small" role="status">
      {{ title }} will be removed. {{ removalWords(preview) }}
    </div>
    <div v-if="warning" class="warning small"><ValueMark kind="refused" /> would be refused: {{ warning.message }}</div>
    <div class="scroll fill">
      <WhyPanel v-if="why && id !== null" :table="table" :id="id" :field="why" @close="emit('why', null)" />
      <DocumentForm
        :document="document"
        :outcomes="outcomes"
        :refusals="refusals"
        :ground="ground"
        @failed="(failure) => (error = failure)"
      />
      <HistoryList
        :table="table"
        v-if="head?.stored"
        class="history"
        :entries="head.stored.history"
        @why="(field) => emit('why', field)"
      />
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
.history {
  padding: 12px;
}
.kept {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 4px 12px;
  background: rgba(var(--v-theme-primary), 0.08);
}
.warning {
  padding: 4px 12px;
  background: rgba(var(--v-theme-error), 0.07);
}
</style>
