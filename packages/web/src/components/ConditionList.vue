<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed } from 'vue'
import { needsText, operatorsFor, OPERATORS, whereOf, type Condition, type Operator } from '../lib/conditions'
import LinkInput from './fields/LinkInput.vue'
import IconButton from './IconButton.vue'
import { ICONS } from '../theme/icons'

/** Records: conditions on fields, all of which must hold. */
const props = defineProps<{ table: Table }>()
const conditions = defineModel<Condition[]>({ required: true })

const faults = computed(() => whereOf(props.table, conditions.value).faults)
const fieldOf = (name: string) => props.table.fields.find((field) => field.name === name) ?? null
const set = (at: number, part: Partial<Condition>) =>
  (conditions.value = conditions.value.map((each, index) => (index === at ? { ...each, ...part } : each)))
function setField(at: number, name: string): void {
  const operators = operatorsFor(fieldOf(name))
  const { operator } = conditions.value[at]!
  set(at, { field: name, text: '', operator: operators.includes(operator) ? operator : operators[0]! })
}
const add = () =>
  (conditions.value = [...conditions.value, { field: props.table.fields[0]?.name ?? 'id', operator: 'eq', text: '' }])
const remove = (at: number) => (conditions.value = conditions.value.filter((_, index) => index !== at))
/** Choices of a field where one is chosen rather than typed. */
function choicesOf({ field: name, operator }: Condition): string[] | null {
  const field = fieldOf(name)
  if (operator === 'in' || !field) return null
  return field.type === 'boolean' ? ['yes', 'no'] : (field.enum?.map(String) ?? null)
}
</script>

<template>
  <ul class="conditions" aria-label="Conditions">
    <li v-for="(condition, at) in conditions" :key="at" class="row small">
      <v-select
        :model-value="condition.field"
        :aria-label="`Field ${at + 1}`"
        @update:model-value="setField(at, $event)"
        :items="[...table.fields.map((field) => ({ value: field.name, title: field.label })), { value: 'id', title: 'id' }]"
      />
      <v-select
        :model-value="condition.operator"
        :aria-label="`Comparison ${at + 1}`"
        @update:model-value="set(at, { operator: $event as Operator })"
        :items="operatorsFor(fieldOf(condition.field)).map((each) => ({ value: each, title: OPERATORS[each] }))"
      />
      <template v-if="needsText(condition.operator)">
        <v-select
          v-if="choicesOf(condition)"
          :model-value="condition.text || null"
          placeholder="choose"
          :aria-label="`Value ${at + 1}`"
          @update:model-value="set(at, { text: $event })"
          :items="choicesOf(condition)!"
        />
        <LinkInput
          v-else-if="fieldOf(condition.field)?.link"
          :model-value="condition.text === '' ? null : Number(condition.text)"
          :table="fieldOf(condition.field)!.link!.table"
          :aria-label="`Value ${at + 1}`"
          bare
          @update:model-value="set(at, { text: $event === null ? '' : String($event) })"
        />
        <v-text-field
          v-else
          :model-value="condition.text"
          :placeholder="condition.operator === 'in' ? 'a, b, c' : condition.operator === 'like' ? 'HV-%' : ''"
          :aria-label="`Value ${at + 1}`"
          @update:model-value="set(at, { text: $event })"
        />
      </template>
      <IconButton :icon="ICONS.close" :label="`Remove condition ${at + 1}`" @click="remove(at)" />
      <span v-if="faults[at] && condition.text !== ''" class="refused">{{ faults[at] }}</span>
    </li>
    <li><v-btn variant="outlined" :prepend-icon="ICONS.add" @click="add">Add condition</v-btn></li>
  </ul>
</template>

<style scoped>
.conditions {
  list-style: none;
  display: flex;
  flex-direction: column;
  gap: 4px;
}
li > .v-input {
  flex: 0 1 190px;
}
</style>
