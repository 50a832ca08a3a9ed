<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { useProject } from '../../stores/project'
import type { Scenario } from './use-sheet'

defineProps<{ table: Table; ms: number | null }>()
const scenario = defineModel<Scenario>({ required: true })
const project = useProject()
const EVENTS = [
  { value: 'create', word: 'as new' },
  { value: 'update', word: 'with a change' },
  { value: 'delete', word: 'as removed' },
] as const
</script>

<template>
  <div class="controls line-b small">
    <strong>What a save does</strong>
    <label
      >to the rows of
      <select v-model="scenario.fixtures" aria-label="Rows of">
        <option v-for="set in project.info?.fixtures ?? []" :key="set.name" :value="set.name">
          {{ set.name }} ({{ set.tables[table.name] ?? 0 }})
        </option>
        <option :value="null">the live records</option>
      </select>
    </label>
    <label
      >saved
      <select v-model="scenario.event" aria-label="Saved">
        <option v-for="event in EVENTS" :key="event.value" :value="event.value">{{ event.word }}</option>
      </select>
    </label>
    <label v-if="scenario.event === 'update'"
      >of
      <select v-model="scenario.field" aria-label="Changed field">
        <option v-for="field in table.fields" :key="field.name" :value="field.name">{{ field.label }}</option>
      </select>
    </label>
    <span class="fill" />
    <span v-if="ms !== null" class="quiet">{{ ms }} ms</span>
    <slot />
  </div>
</template>

<style scoped>
.controls {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 4px 12px;
  background: rgb(var(--v-theme-background));
  flex-wrap: wrap;
}
.controls select {
  margin-left: 3px;
}
</style>
