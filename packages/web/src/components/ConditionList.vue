<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed } from 'vue'
import { needsText, operatorsFor, OPERATORS, whereOf, type Condition, type Operator } from '../lib/conditions'
import LinkInput from './LinkInput.vue'

/** Which records: conditions on fields, all of which must hold. */
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
      <select
        :value="condition.field"
        :aria-label="`Field ${at + 1}`"
        @change="setField(at, ($event.target as HTMLSelectElement).value)"
      >
        <option v-for="field in table.fields" :key="field.name" :value="field.name">{{ field.label }}</option>
        <option value="id">id</option>
      </select>
      <select
        :value="condition.operator"
        :aria-label="`Comparison ${at + 1}`"
        @change="set(at, { operator: ($event.target as HTMLSelectElement).value as Operator })"
      >
        <option v-for="each in operatorsFor(fieldOf(condition.field))" :key="each" :value="each">{{ OPERATORS[each] }}</option>
      </select>
      <template v-if="needsText(condition.operator)">
        <select
          v-if="choicesOf(condition)"
          :value="condition.text"
          :aria-label="`Value ${at + 1}`"
          @change="set(at, { text: ($event.target as HTMLSelectElement).value })"
        >
          <option value="" disabled>choose</option>
          <option v-for="each in choicesOf(condition)" :key="each" :value="each">{{ each }}</option>
        </select>
        <LinkInput
          v-else-if="fieldOf(condition.field)?.link"
          :model-value="condition.text"
          :table="fieldOf(condition.field)!.link!.table"
          :label="`Value ${at + 1}`"
          @update:model-value="set(at, { text: $event })"
        />
        <input
          v-else
          :value="condition.text"
          :placeholder="condition.operator === 'in' ? 'a, b, c' : condition.operator === 'like' ? 'HV-%' : ''"
          :aria-label="`Value ${at + 1}`"
          @input="set(at, { text: ($event.target as HTMLInputElement).value })"
        />
      </template>
      <button type="button" class="toggle" :aria-label="`Take condition ${at + 1} away`" @click="remove(at)">×</button>
      <span v-if="faults[at] && condition.text !== ''" class="refused">{{ faults[at] }}</span>
    </li>
    <li><button type="button" class="toggle small" @click="add">Add a condition</button></li>
  </ul>
</template>

<style scoped>
.conditions {
  list-style: none;
  display: flex;
  flex-direction: column;
  gap: 4px;
}
select,
input {
  max-width: 190px;
}
</style>
