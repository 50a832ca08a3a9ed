<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { useProject } from '../../stores/project'
import type { Scenario } from './use-sheet'

defineProps<{
  table: Table
  ms: number | null
  /** Another panel than the sheet is shown. */
  bare: boolean
}>()
const scenario = defineModel<Scenario>({ required: true })
const project = useProject()
const EVENTS = [
  { value: 'create', word: 'as new records' },
  { value: 'update', word: 'with a changed field' },
  { value: 'delete', word: 'as deletions' },
] as const
</script>

<template>
  <div class="controls line-b small">
    <slot name="before" />
    <template v-if="!bare">
      <v-select
        prefix="Rows:"
        aria-label="Rows of"
        v-model="scenario.fixtures"
        :items="[
          ...(project.info?.fixtures ?? []).map((set) => ({
            value: set.name,
            title: `${set.name} (${set.tables[table.name] ?? 0})`,
          })),
          { value: null, title: 'the live records' },
        ]"
      />
      <v-select
        prefix="Saved:"
        aria-label="Saved"
        v-model="scenario.event"
        :items="EVENTS.map((event) => ({ value: event.value, title: event.word }))"
      />
      <v-select
        v-if="scenario.event === 'update'"
        prefix="Field:"
        aria-label="Changed field"
        v-model="scenario.field"
        :items="table.fields.map((field) => ({ value: field.name, title: field.label }))"
      />
    </template>
    <span class="fill" />
    <span v-if="ms !== null && !bare" class="quiet">{{ ms }} ms</span>
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
</style>
