<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed } from 'vue'
import { useProject } from '../../../stores/project'
import type { NumberWish } from './use-wish'

/** The field that takes the numbers, and the series they come from: one, or one for each kind. */
const props = defineProps<{ table: Table }>()
const number = defineModel<NumberWish>({ required: true })
const project = useProject()
const texts = computed(() => props.table.fields.filter((field) => field.type === 'string' && !field.enum && !field.format))
const kinds = computed(() => props.table.fields.filter((field) => field.enum))
const choices = computed(() => kinds.value.find(({ name }) => name === number.value.by)?.enum ?? [])
const sequences = computed(() => project.info?.sequences ?? [])
const set = (part: Partial<NumberWish>) => (number.value = { ...number.value, ...part })
const valueIn = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <p v-if="sequences.length === 0" class="quiet small">project.json has no sequences yet.</p>
  <div class="row wrap">
    <label
      >in
      <select :value="number.field" aria-label="Field that takes the number" @change="set({ field: valueIn($event) })">
        <option value="">Choose a field</option>
        <option v-for="field in texts" :key="field.name" :value="field.name">{{ field.label }}</option>
      </select></label
    >
    <label
      >from
      <select :value="number.by" aria-label="One series or one by kind" @change="set({ by: valueIn($event), of: {} })">
        <option value="">one series</option>
        <option v-for="field in kinds" :key="field.name" :value="field.name">a series by {{ field.label }}</option>
      </select></label
    >
    <select v-if="number.by === ''" :value="number.series" aria-label="Series" @change="set({ series: valueIn($event) })">
      <option value="">Choose a series</option>
      <option v-for="each in sequences" :key="each" :value="each">{{ each }}</option>
    </select>
    <template v-else>
      <label v-for="choice in choices" :key="String(choice)"
        >{{ choice }}
        <select
          :value="number.of[String(choice)] ?? ''"
          :aria-label="`Series of ${choice}`"
          @change="set({ of: { ...number.of, [String(choice)]: valueIn($event) } })"
        >
          <option value="">none: left as they are</option>
          <option v-for="each in sequences" :key="each" :value="each">{{ each }}</option>
        </select></label
      >
    </template>
  </div>
  <p class="quiet small">
    Numbers come in the order above; those that a record has already are passed by, and new records go on from the last one.
  </p>
</template>

<style scoped>
.wrap {
  flex-wrap: wrap;
}
</style>
