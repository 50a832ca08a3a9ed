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
</script>

<template>
  <p v-if="sequences.length === 0" class="quiet small">This project has no sequences. Add one in project.json.</p>
  <div class="row wrap">
    <v-select
      label="Number field"
      :model-value="number.field"
      @update:model-value="set({ field: $event })"
      :items="[{ value: '', title: 'Choose a field' }, ...texts.map((field) => ({ value: field.name, title: field.label }))]"
    />
    <v-select
      label="Sequence"
      :model-value="number.by"
      @update:model-value="set({ by: $event, of: {} })"
      :items="[
        { value: '', title: 'one sequence' },
        ...kinds.map((field) => ({ value: field.name, title: `one sequence per ${field.label}` })),
      ]"
    />
    <v-select
      v-if="number.by === ''"
      :model-value="number.series"
      aria-label="Sequence name"
      @update:model-value="set({ series: $event })"
      :items="[{ value: '', title: 'Choose a sequence' }, ...sequences]"
    />
    <template v-else>
      <v-select
        v-for="choice in choices"
        :key="String(choice)"
        :label="`Sequence for ${choice}`"
        :model-value="number.of[String(choice)] ?? ''"
        @update:model-value="set({ of: { ...number.of, [String(choice)]: $event } })"
        :items="[{ value: '', title: 'none (skip)' }, ...sequences]"
      />
    </template>
  </div>
  <p class="quiet small">
    Numbers follow the order above. Numbers already in use are skipped, and new records continue after the last one.
  </p>
</template>

<style scoped>
.wrap {
  flex-wrap: wrap;
}
</style>
