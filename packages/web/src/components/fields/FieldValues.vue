<script setup lang="ts">
import type { Table, Value } from '@patient-hook/contract'
import FieldInput from './FieldInput.vue'
import IconButton from '../IconButton.vue'
import { ICONS } from '../../theme/icons'

/** The fields that are set, and to what; an empty one is set to nothing. */
const props = defineProps<{ table: Table }>()
const values = defineModel<Record<string, Value>>({ required: true })
const fieldOf = (name: string) => props.table.fields.find((field) => field.name === name)!
function add(name: string | null): void {
  if (name !== null && !(name in values.value)) values.value = { ...values.value, [name]: null }
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
    <IconButton :icon="ICONS.close" :label="`Remove ${fieldOf(name).label}`" @click="remove(name)" />
  </div>
  <v-select
    :key="Object.keys(values).length"
    aria-label="Field to set"
    @update:model-value="add($event)"
    :model-value="null"
    placeholder="Choose a field"
    max-width="240"
    :items="table.fields.filter(({ name }) => !(name in values)).map((field) => ({ value: field.name, title: field.label }))"
  />
</template>

<style scoped>
.field {
  min-width: 220px;
  max-width: 360px;
}
</style>
