<script setup lang="ts">
import type { Value } from '@patient-hook/contract'
import { computed } from 'vue'
import { show } from '../../../lib/text'

/** A message as a person reads it: plain values by their names, what is nested as JSON. */
const props = defineProps<{ payload: unknown }>()
const isPlain = (value: unknown): value is Value => value === null || typeof value !== 'object'
const word = (value: unknown) => (isPlain(value) ? show(value) : JSON.stringify(value))
const lines = computed(() =>
  props.payload !== null && typeof props.payload === 'object' && !Array.isArray(props.payload)
    ? Object.entries(props.payload)
    : null,
)
</script>

<template>
  <dl v-if="lines" class="body small">
    <template v-for="[name, value] in lines" :key="name">
      <dt class="quiet">{{ name }}</dt>
      <dd>{{ word(value) }}</dd>
    </template>
  </dl>
  <p v-else class="small">{{ word(payload) }}</p>
</template>

<style scoped>
.body {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 1px 12px;
  margin-top: 3px;
}
dd {
  overflow-wrap: anywhere;
  white-space: pre-wrap;
}
</style>
