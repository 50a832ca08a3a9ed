<script setup lang="ts">
import type { CsvColumn, CsvMapping, Table } from '@patient-hook/contract'
import { useProject } from '../../../stores/project'
import PlainTable from '../../../components/grid/PlainTable.vue'

/** What each column of a file field: a field, or the id; a link by the record's id or by what people call it. */
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
  <PlainTable label="Columns of the file">
    <thead>
      <tr>
        <th scope="col">column</th>
        <th scope="col">sample values</th>
        <th scope="col">field</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="{ head, samples } in columns" :key="head">
        <td class="mono">{{ head }}</td>
        <td class="quiet samples">{{ samples.join(' · ') }}</td>
        <td class="row">
          <v-select
            :model-value="mapping[head]?.field ?? ''"
            :aria-label="`Field for ${head}`"
            @update:model-value="set(head, $event)"
            :items="[
              { value: '', title: 'ignore' },
              { value: 'id', title: 'id', props: { disabled: isTaken('id', head) } },
              ...table.fields.map((field) => ({
                value: field.name,
                title: field.label,
                props: { disabled: isTaken(field.name, head) },
              })),
            ]"
          />
          <v-select
            v-if="targetOf(head)"
            :model-value="mapping[head]?.by ?? ''"
            :aria-label="`${head} matches by`"
            @update:model-value="setBy(head, $event)"
            :items="[
              { value: '', title: `by id of ${targetOf(head)!.label}` },
              ...namesOf(head).map((field) => ({ value: field.name, title: `by ${field.label}` })),
            ]"
          />
        </td>
      </tr>
    </tbody>
  </PlainTable>
</template>

<style scoped>
.samples {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
