<script setup lang="ts">
import type { Table, Value } from '@patient-hook/contract'
import FieldInput from '../../components/FieldInput.vue'

/** The fields that are set, and to what; an empty one is set to nothing. */
const props = defineProps<{ table: Table }>()
const values = defineModel<Record<string, Value>>({ required: true })
const fieldOf = (name: string) => props.table.fields.find((field) => field.name === name)!
function add(event: Event): void {
  const select = event.target as HTMLSelectElement
  values.value = { ...values.value, [select.value]: null }
  select.value = ''
}
const remove = (name: string) =>
  (values.value = Object.fromEntries(Object.entries(values.value).filter(([other]) => other !== name)))
</script>

<template>
  <div v-for="(value, name) in values" :key="name" class="row">
    <FieldInput
      class="field"
      :field="fieldOf(name)"
      :label="undefined"
      :errors="[]"
      :pending="undefined"
      :model-value="value"
      @update:model-value="values = { ...values, [name]: $event }"
    />
    <button type="button" class="toggle" :aria-label="`Do not set ${fieldOf(name).label}`" @click="remove(name)">×</button>
  </div>
  <select aria-label="Field to set" @change="add">
    <option value="">Choose a field</option>
    <option v-for="field in table.fields.filter(({ name }) => !(name in values))" :key="field.name" :value="field.name">
      {{ field.label }}
    </option>
  </select>
</template>

<style scoped>
.field {
  min-width: 220px;
  max-width: 360px;
}
select {
  max-width: 240px;
}
</style>
