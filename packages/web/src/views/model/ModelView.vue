<script setup lang="ts">
import type { Step } from '@patient-hook/contract'
import { newField } from '@patient-hook/core/table-edit'
import { useEventListener } from '@vueuse/core'
import { computed, ref, toRaw, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import { useNotices } from '../../stores/notices'
import { useProject } from '../../stores/project'
import ChangePlan from './ChangePlan.vue'
import FieldForm from './FieldForm.vue'
import FieldList from './FieldList.vue'
import HookMatrix from './HookMatrix.vue'
import TableList from './TableList.vue'
import { useTableEdit } from './use-table-edit'

/** The tables with their fields and links, changed in place, and which hooks read and write each field. */
const route = useRoute()
const router = useRouter()
const project = useProject()
const notices = useNotices()
const asked = computed(() => String(route.params['table'] ?? ''))
const table = computed(() => project.table(asked.value) ?? (asked.value === '' ? project.tables[0] : undefined))
const {
  work,
  plan,
  error,
  busy,
  accepted,
  undo,
  redo,
  canUndo,
  canRedo,
  change,
  make,
  stop,
  apply,
  planRemoval,
  remove,
  importFile,
} = useTableEdit()
/** Something is on the workbench, and this is its place. */
const editing = computed(() =>
  work.value !== null && (work.value.of === null ? asked.value === '+' : work.value.of === table.value?.name) ? work.value : null,
)
/** What removing the table would do, once that is asked for. */
const removing = ref<Step[] | null>(null)
watch(asked, () => (removing.value = null))

async function start(run: () => void | Promise<boolean>): Promise<void> {
  if ((await run()) === false) return
  await router.push({ name: 'model', params: { table: '+' } })
}
const startNew = () =>
  start(() =>
    make({ name: 'new_table', label: 'New table', help: '', titleField: null, fields: [{ ...newField('name', 'Name') }] }),
  )
const startImport = (file: File) => start(() => importFile(file))

async function finish(): Promise<void> {
  const name = await apply()
  if (name !== null) await router.push({ name: 'model', params: { table: name } })
}
async function cancel(): Promise<void> {
  const before = work.value === null ? null : structuredClone(toRaw(work.value))
  const of = before?.of ?? null
  const hasEdits = canUndo.value
  stop()
  if (before && hasEdits)
    notices.say('Discarded the changes to the table', async () => {
      work.value ??= before
      await router.push({ name: 'model', params: { table: of ?? '+' } })
    })
  if (of === null) await router.push({ name: 'model', params: { table: '' } })
}
async function takeAway(): Promise<void> {
  if (!table.value) return
  if (await remove(table.value.name)) await router.push({ name: 'model', params: { table: '' } })
  removing.value = null
}
async function askToRemove(): Promise<void> {
  if (table.value) removing.value = await planRemoval(table.value.name)
}
/** Fields that can name a record. */
const titleFields = computed(() => [
  { value: null, title: 'first text field' },
  ...(editing.value?.edit.fields ?? [])
    .filter(({ type }) => type === 'string')
    .map(({ name, label }) => ({ value: name, title: label })),
])
const canRemove = computed(() => removing.value?.every((step) => step.effect !== 'blocked') ?? false)

/** Columns of an imported file follow their fields: renamed along, or left out. */
function follow(from: string, to: string | null): void {
  for (const column of work.value?.records?.columns ?? []) if (column.field === from) column.field = to
}
useEventListener('keydown', (event) => {
  if (!editing.value || !(event.ctrlKey || event.metaKey) || (event.target as HTMLElement).matches('input:not([type=checkbox])'))
    return
  if (event.key === 'z' && !event.shiftKey) undo()
  else if (event.key === 'y' || (event.key === 'z' && event.shiftKey)) redo()
  else return
  event.preventDefault()
})
</script>

<template>
  <div class="view">
    <TableList :chosen="table?.name ?? null" @make="startNew" @file="startImport" />
    <div v-if="editing" class="body scroll" tabindex="0" aria-label="Table, edited">
      <div class="row heads">
        <v-text-field label="Label" :model-value="editing.edit.label" @update:model-value="editing.edit.label = $event" />
        <v-text-field
          v-if="editing.of === null"
          label="Name"
          :model-value="editing.edit.name"
          class="mono"
          @change="editing.edit.name = $event.target.value"
        />
        <span v-else class="mono quiet">{{ editing.of }}</span>
        <v-text-field label="Help" v-model="editing.edit.help" class="wide" />
        <v-select
          v-model="editing.edit.titleField"
          class="titles"
          label="Title of a record"
          :items="titleFields"
          title="The field that names a record in links, lists and headings"
        />
        <v-btn :disabled="!canUndo" title="Ctrl+Z" @click="undo()">Undo</v-btn>
        <v-btn :disabled="!canRedo" title="Ctrl+Y" @click="redo()">Redo</v-btn>
        <v-btn @click="cancel">Discard changes</v-btn>
      </div>
      <p v-if="editing.records" class="quiet small">
        From {{ editing.records.file }}: types are inferred from the values. Correct them where needed. The records are imported
        with the table.
      </p>
      <FieldForm v-model="editing.edit" @renamed="follow" @removed="(name) => follow(name, null)" />
    </div>
    <EmptyState v-else-if="project.tables.length === 0" title="No tables yet">
      Create one, or import it from a CSV file or a JSON Schema.
      <template #action>
        <v-btn variant="flat" color="primary" @click="startNew">New table</v-btn>
      </template>
    </EmptyState>
    <EmptyState v-else-if="!table" :title="asked === '+' ? 'No new table started' : `There is no table ${asked}`">
      Choose a table on the left, or create one.
    </EmptyState>
    <div v-else class="body scroll" tabindex="0" aria-label="Table">
      <div class="row">
        <h2>
          {{ table.label }} <span class="mono quiet">{{ table.name }}</span>
        </h2>
        <span class="fill" />
        <v-btn @click="change(table)">Change</v-btn>
        <v-btn color="error" @click="askToRemove">Remove</v-btn>
      </div>
      <div v-if="removing" class="removing" role="alert">
        <p v-for="(step, index) in removing" :key="index">{{ step.text }}</p>
        <p v-if="canRemove">Its fixtures are removed too. Its history is retained.</p>
        <v-btn v-if="canRemove" color="error" variant="flat" @click="takeAway">Remove {{ table.name }}</v-btn>
        <v-btn @click="removing = null">Cancel</v-btn>
      </div>
      <ErrorNote v-if="error" :error="error.report" />
      <p class="quiet">{{ table.help }}</p>
      <FieldList :table="table" :marked="route.hash.slice(1)" />
      <HookMatrix :table="table" />
    </div>
    <ChangePlan
      v-if="editing"
      v-model:fills="editing.fills"
      v-model:accepted="accepted"
      :plan="plan"
      :edit="editing.edit"
      :error="error?.report ?? null"
      :busy="busy"
      :is-new="editing.of === null"
      @apply="finish"
    />
  </div>
</template>

<style scoped>
.view {
  display: flex;
  height: 100%;
  min-height: 0;
}
.body {
  flex: 1;
  min-width: 0;
  padding: 10px 16px 28px;
}
h2 {
  font-size: 17px;
}
.row label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.wide {
  width: 100%;
}
.titles {
  min-width: 150px;
}
.heads {
  margin-bottom: 6px;
}
.removing {
  padding: 6px 10px;
  border-left: 3px solid rgb(var(--v-theme-error));
}
</style>
