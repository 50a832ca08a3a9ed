<script setup lang="ts">
import type { FieldEdit, TableEdit } from '@patient-hook/contract'
import { fieldNameFrom, newField } from '@patient-hook/core/table-edit'
import { computed } from 'vue'
import { useProject } from '../../stores/project'

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
    maxLength: kind === 'text' ? field.maxLength : null,
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
  emit('removed', field!.name)
}
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
</script>

<template>
  <table aria-label="Fields, edited">
    <thead>
      <tr>
        <th scope="col">label and name, help</th>
        <th scope="col">type</th>
        <th scope="col">choices, link, bounds</th>
        <th scope="col">rules</th>
        <th scope="col"><span class="hidden">order</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(field, index) in edit.fields" :key="`${field.was ?? 'new'} ${index}`">
        <td class="names">
          <input :value="field.label" :aria-label="`Label of ${field.name}`" @input="setLabel(field, value($event))" />
          <input class="mono" :value="field.name" :aria-label="`Name of ${field.name}`" @change="setName(field, value($event))" />
          <input v-model="field.help" class="help small" :aria-label="`Help of ${field.name}`" placeholder="help" />
        </td>
        <td>
          <select :value="kindOf(field)" :aria-label="`Type of ${field.name}`" @change="setKind(field, value($event) as Kind)">
            <option v-for="kind in KINDS" :key="kind.value" :value="kind.value">{{ kind.word }}</option>
          </select>
        </td>
        <td class="details">
          <template v-if="field.link">
            <select v-model="field.link.table" :aria-label="`Table that ${field.name} links to`">
              <option v-for="name in targets" :key="name">{{ name }}</option>
            </select>
            <select v-model="field.link.onDelete" :aria-label="`When the record that ${field.name} links to goes`">
              <option value="refuse">refuse delete</option>
              <option value="clear">clear</option>
              <option value="cascade">cascade</option>
            </select>
          </template>
          <input
            v-else-if="field.enum"
            :value="field.enum.join(', ')"
            :aria-label="`Choices of ${field.name}`"
            placeholder="low, normal, high"
            @change="setChoices(field, value($event))"
          />
          <template v-else-if="field.type === 'integer' || field.type === 'number'">
            <input
              class="short"
              :value="field.minimum ?? ''"
              placeholder="min"
              :aria-label="`Least ${field.name}`"
              @change="field.minimum = number(value($event))"
            />
            <input
              class="short"
              :value="field.maximum ?? ''"
              placeholder="max"
              :aria-label="`Greatest ${field.name}`"
              @change="field.maximum = number(value($event))"
            />
          </template>
          <input
            v-else-if="field.type === 'string' && !field.format"
            class="short"
            :value="field.maxLength ?? ''"
            placeholder="length"
            :aria-label="`Greatest length of ${field.name}`"
            @change="field.maxLength = number(value($event))"
          />
        </td>
        <td class="rules">
          <label><input v-model="field.required" type="checkbox" :aria-label="`${field.name} is required`" /> required</label>
          <label><input v-model="field.unique" type="checkbox" :aria-label="`${field.name} is unique`" /> unique</label>
        </td>
        <td class="order">
          <button type="button" :disabled="index === 0" :aria-label="`Move ${field.name} up`" @click="move(index, -1)">↑</button>
          <button
            type="button"
            :disabled="index === edit.fields.length - 1"
            :aria-label="`Move ${field.name} down`"
            @click="move(index, 1)"
          >
            ↓
          </button>
          <button type="button" class="refused" :aria-label="`Remove ${field.name}`" @click="take(index)">×</button>
        </td>
      </tr>
    </tbody>
  </table>
  <button type="button" class="add" @click="add">+ Field</button>
</template>

<style scoped>
table {
  border-collapse: separate;
  border-spacing: 0;
  font-size: 13px;
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 4px 5px 4px 0;
  vertical-align: top;
  border-bottom: 1px solid rgb(var(--v-theme-line));
}
.names {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 4px;
  min-width: 226px;
}
.names .help {
  grid-column: 1 / 3;
  padding: 0 6px;
}
th {
  font-weight: 620;
  color: rgba(var(--v-theme-on-surface), 0.74);
}
input:not([type='checkbox']),
select {
  width: 100%;
  min-width: 76px;
}
input.short {
  width: 62px;
  min-width: 0;
}
.details {
  white-space: nowrap;
}
.details select {
  width: 106px;
}
.rules label {
  display: flex;
  gap: 4px;
  white-space: nowrap;
  font-size: 12.5px;
  line-height: 1.3;
}
.order {
  white-space: nowrap;
}
.order button,
.add {
  color: inherit;
  border: 1px solid rgb(var(--v-theme-line));
  border-radius: 4px;
  padding: 0 6px;
  margin-right: 2px;
}
.order button:disabled {
  opacity: 0.4;
}
.order .refused {
  color: rgb(var(--v-theme-error));
}
.add {
  margin-top: 6px;
  padding: 1px 10px;
  color: rgb(var(--v-theme-primary));
}
.hidden {
  position: absolute;
  clip-path: inset(50%);
}
</style>
