<script setup lang="ts">
import type { FieldEdit, TableEdit } from '@patient-hook/contract'
import { fieldNameFrom, newField } from '@patient-hook/core/table-edit'
import { computed } from 'vue'
import { useProject } from '../../stores/project'
import FieldMore from './FieldMore.vue'
import ActionMenu from '../../components/ActionMenu.vue'
import PlainTable from '../../components/grid/PlainTable.vue'
import { ICONS } from '../../theme/icons'

/** The fields of a table as they are edited, in place of the list of them. */
const edit = defineModel<TableEdit>({ required: true })
/** Columns of the imported file follow their fields. */
const emit = defineEmits<{ renamed: [from: string, to: string]; removed: [name: string] }>()
const project = useProject()

const KINDS = [
  { value: 'text', word: 'text' },
  { value: 'integer', word: 'integer' },
  { value: 'number', word: 'number' },
  { value: 'boolean', word: 'yes/no' },
  { value: 'date', word: 'date' },
  { value: 'date-time', word: 'date and time' },
  { value: 'enum', word: 'choices' },
  { value: 'link', word: 'link' },
] as const
type Kind = (typeof KINDS)[number]['value']

const kindOf = (field: FieldEdit): Kind =>
  field.link ? 'link' : field.enum ? 'enum' : field.format ? field.format : field.type === 'string' ? 'text' : field.type

function setKind(field: FieldEdit, kind: Kind): void {
  const keep = kind === 'integer' || kind === 'number'
  Object.assign(field, {
    type: kind === 'link' || kind === 'integer' ? 'integer' : kind === 'number' || kind === 'boolean' ? kind : 'string',
    format: kind === 'date' || kind === 'date-time' ? kind : null,
    enum: kind === 'enum' ? ['first', 'second'] : null,
    link: kind === 'link' ? { table: project.tables[0]?.name ?? edit.value.name, onDelete: 'refuse' } : null,
    minimum: keep ? field.minimum : null,
    maximum: keep ? field.maximum : null,
    multipleOf: keep ? (field.multipleOf ?? null) : null,
    minLength: kind === 'text' ? (field.minLength ?? null) : null,
    maxLength: kind === 'text' ? field.maxLength : null,
    pattern: kind === 'text' ? (field.pattern ?? null) : null,
    default: null,
  })
}
const targets = computed(() => {
  const names = project.tables.map((table) => table.name)
  return names.includes(edit.value.name) ? names : [...names, edit.value.name]
})
function setLabel(field: FieldEdit, label: string): void {
  const made = fieldNameFrom(field.label, othersThan(field))
  // The name of a new field follows its label until somebody types another.
  if (field.was === null && (field.name === made || field.name === '')) setName(field, fieldNameFrom(label, othersThan(field)))
  field.label = label
}
function setName(field: FieldEdit, name: string): void {
  if (name !== field.name) emit('renamed', field.name, name)
  if (edit.value.titleField === field.name) edit.value.titleField = name
  field.name = name
}
const othersThan = (field: FieldEdit) => new Set(edit.value.fields.filter((each) => each !== field).map((each) => each.name))
const setChoices = (field: FieldEdit, text: string) => {
  field.enum = [
    ...new Set(
      text
        .split(',')
        .map((each) => each.trim())
        .filter(Boolean),
    ),
  ].map((each) => (field.type === 'string' ? each : Number(each)))
}
/** Headings that are in use already. */
const groups = computed(() => [...new Set(edit.value.fields.flatMap(({ group }) => (group ? [group] : [])))])
const number = (text: string) => (text.trim() === '' || Number.isNaN(Number(text)) ? null : Number(text))

function add(): void {
  const taken = new Set(edit.value.fields.map((field) => field.name))
  edit.value.fields.push(newField(fieldNameFrom('New field', taken), 'New field'))
}
function move(index: number, by: number): void {
  const [field] = edit.value.fields.splice(index, 1)
  edit.value.fields.splice(index + by, 0, field!)
}
function take(index: number): void {
  const [field] = edit.value.fields.splice(index, 1)
  if (edit.value.titleField === field!.name) edit.value.titleField = null
  emit('removed', field!.name)
}
const actionsFor = (index: number) => [
  ...(index > 0 ? [{ title: 'Move up', icon: ICONS.up, run: () => move(index, -1) }] : []),
  ...(index < edit.value.fields.length - 1 ? [{ title: 'Move down', icon: ICONS.down, run: () => move(index, 1) }] : []),
  { title: 'Remove field', icon: ICONS.close, danger: true, run: () => take(index) },
]
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
</script>

<template>
  <PlainTable label="Fields, edited">
    <thead>
      <tr>
        <th scope="col">label, name and help</th>
        <th scope="col">type</th>
        <th scope="col">choices, link, bounds</th>
        <th scope="col">rules</th>
        <th scope="col"><span class="d-sr-only">order</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(field, index) in edit.fields" :key="`${field.was ?? 'new'} ${index}`">
        <td>
          <div class="names">
            <v-text-field
              :model-value="field.label"
              :aria-label="`Label of ${field.name}`"
              @update:model-value="setLabel(field, $event)"
            />
            <v-text-field
              class="mono"
              :model-value="field.name"
              :aria-label="`Name of ${field.name}`"
              @change="setName(field, value($event))"
            />
            <v-text-field v-model="field.help" class="help small" :aria-label="`Help of ${field.name}`" placeholder="help" />
          </div>
        </td>
        <td class="kind">
          <v-select
            :model-value="kindOf(field)"
            :aria-label="`Type of ${field.name}`"
            @update:model-value="setKind(field, $event as Kind)"
            :items="KINDS.map((kind) => ({ value: kind.value, title: kind.word }))"
          />
        </td>
        <td class="details">
          <template v-if="field.link">
            <v-select v-model="field.link.table" :aria-label="`Table that ${field.name} links to`" :items="targets" />
            <v-select
              v-model="field.link.onDelete"
              :aria-label="`When the record that ${field.name} links to goes`"
              :items="[
                { value: 'refuse', title: 'refuse delete' },
                { value: 'clear', title: 'clear' },
                { value: 'cascade', title: 'cascade' },
              ]"
            />
          </template>
          <v-text-field
            v-else-if="field.enum"
            :model-value="field.enum.join(', ')"
            :aria-label="`Choices of ${field.name}`"
            placeholder="low, normal, high"
            @change="setChoices(field, value($event))"
          />
          <template v-else-if="field.type === 'integer' || field.type === 'number'">
            <v-text-field
              class="short"
              :model-value="field.minimum ?? ''"
              prefix="≥"
              placeholder="min"
              :aria-label="`Least ${field.name}`"
              @change="field.minimum = number(value($event))"
            />
            <v-text-field
              class="short"
              :model-value="field.maximum ?? ''"
              prefix="≤"
              placeholder="max"
              :aria-label="`Greatest ${field.name}`"
              @change="field.maximum = number(value($event))"
            />
          </template>
          <v-text-field
            v-else-if="field.type === 'string' && !field.format"
            class="short"
            :model-value="field.maxLength ?? ''"
            prefix="≤"
            suffix="characters"
            placeholder="length"
            :aria-label="`Greatest length of ${field.name}`"
            @change="field.maxLength = number(value($event))"
          />
        </td>
        <td class="rules">
          <v-checkbox v-model="field.required" :aria-label="`${field.name} is required`" label="required" />
          <v-checkbox v-model="field.unique" :aria-label="`${field.name} is unique`" label="unique" />
        </td>
        <td class="order">
          <FieldMore v-model="edit.fields[index]!" :groups="groups" />
          <ActionMenu :label="`Actions for ${field.name}`" :actions="actionsFor(index)" />
        </td>
      </tr>
    </tbody>
  </PlainTable>
  <v-btn class="mt-2" variant="outlined" color="primary" :prepend-icon="ICONS.add" @click="add">Add field</v-btn>
</template>

<style scoped>
:is(th, td) {
  padding: 6px 6px 6px 0 !important;
  vertical-align: top;
}
.names {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px;
  min-width: 236px;
}
.names .help {
  grid-column: 1 / 3;
}
.details {
  min-width: 120px;
}
.rules {
  min-width: 100px;
}
.kind {
  min-width: 116px;
}
.order {
  white-space: nowrap;
}
</style>
