<script setup lang="ts">
import type { ErrorReport, Field, RowOut, Table, Value } from '@patient-hook/contract'
import { computed } from 'vue'
import type { TriedGround } from '../lib/api'
import FieldInput from './fields/FieldInput.vue'

/** The fields of a record, made from its table: inputs by type, what is refused, and what hooks would set before it is saved. */
const props = defineProps<{
  table: Table
  labels: Readonly<Record<string, Readonly<Record<string, string>>>>
  refusals: readonly ErrorReport[]
  /** The row as a rehearsal of this save has it. */
  row: RowOut | undefined
  ground?: TriedGround
  /** Fields that link to another row of the same save, in words. */
  refs?: Readonly<Record<string, string>>
}>()
const values = defineModel<Record<string, Value>>({ required: true })

/** The fields by their headings, those without one first. */
const groups = computed(() => {
  const byGroup = new Map<string, Field[]>([['', []]])
  for (const field of props.table.fields) byGroup.set(field.group ?? '', [...(byGroup.get(field.group ?? '') ?? []), field])
  return [...byGroup].filter(([, fields]) => fields.length > 0)
})
const errorsOf = (name: string) => props.refusals.filter((each) => each.field === name).map((each) => `× ${each.message}`)
function pendingOf(name: string) {
  const change = props.row?.changes.find((each) => each.field === name)
  if (!change || change.kind === 'typed') return undefined
  return { value: change.to, by: change.by, overwrites: change.overwrites !== undefined }
}
</script>

<template>
  <section v-for="[group, fields] in groups" :key="group" class="grid" :aria-label="group || undefined">
    <h4 v-if="group">{{ group }}</h4>
    <div v-for="field in fields" :key="field.name" :class="{ hinted: pendingOf(field.name) }">
      <v-text-field
        v-if="refs?.[field.name]"
        :label="field.label + (field.required ? ' *' : '')"
        :model-value="refs[field.name]"
        :name="field.name"
        readonly
      />
      <FieldInput
        v-else
        v-model="values[field.name]!"
        :field="field"
        :label="labels[field.name]?.[String(values[field.name])]"
        :errors="errorsOf(field.name)"
        :pending="pendingOf(field.name)"
        :ground="ground"
      />
    </div>
  </section>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 14px 10px;
  align-items: start;
}
.grid h4 {
  grid-column: 1 / -1;
  margin-top: 6px;
  font-size: 13px;
}
.hinted :deep(.v-messages) {
  color: rgb(var(--v-theme-copper));
  opacity: 1;
  font-weight: 600;
}
</style>
