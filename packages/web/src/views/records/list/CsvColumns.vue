<script setup lang="ts">
import type { CsvColumn, CsvMapping, Table } from '@patient-hook/contract'
import { useProject } from '../../../stores/project'

/** What each column of a file is read as: a field, or the id; a link by the record's id or by what people call it. */
const props = defineProps<{ table: Table; columns: readonly CsvColumn[] }>()
const mapping = defineModel<CsvMapping>({ required: true })
const project = useProject()

const fieldOf = (head: string) => props.table.fields.find(({ name }) => name === mapping.value[head]?.field)
const targetOf = (head: string) => {
  const link = fieldOf(head)?.link
  return link ? project.table(link.table) : undefined
}
/** Fields of the linked table that can name a record. */
const namesOf = (head: string) =>
  (targetOf(head)?.fields ?? []).filter(({ type, format, enum: choices }) => type === 'string' && !format && !choices)
const set = (head: string, field: string) => (mapping.value = { ...mapping.value, [head]: field === '' ? null : { field } })
const setBy = (head: string, by: string) => {
  const { field } = mapping.value[head]!
  mapping.value = { ...mapping.value, [head]: by === '' ? { field } : { field, by } }
}
const isTaken = (name: string, head: string) =>
  Object.entries(mapping.value).some(([other, use]) => other !== head && use?.field === name)
</script>

<template>
  <table class="plain-table" aria-label="Columns of the file">
    <thead>
      <tr>
        <th scope="col">column</th>
        <th scope="col">holds</th>
        <th scope="col">is read as</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="{ head, samples } in columns" :key="head">
        <td class="mono">{{ head }}</td>
        <td class="quiet samples">{{ samples.join(' · ') }}</td>
        <td class="row">
          <select
            :value="mapping[head]?.field ?? ''"
            :aria-label="`${head} is read as`"
            @change="set(head, ($event.target as HTMLSelectElement).value)"
          >
            <option value="">not at all</option>
            <option value="id" :disabled="isTaken('id', head)">id</option>
            <option v-for="field in table.fields" :key="field.name" :value="field.name" :disabled="isTaken(field.name, head)">
              {{ field.label }}
            </option>
          </select>
          <select
            v-if="targetOf(head)"
            :value="mapping[head]?.by ?? ''"
            :aria-label="`${head} names it by`"
            @change="setBy(head, ($event.target as HTMLSelectElement).value)"
          >
            <option value="">by id of {{ targetOf(head)!.label }}</option>
            <option v-for="field in namesOf(head)" :key="field.name" :value="field.name">by {{ field.label }}</option>
          </select>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.samples {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
select {
  max-width: 190px;
}
</style>
