<script setup lang="ts">
import type { JobInfo } from '@patient-hook/contract'
import { computed } from 'vue'

/** How far a job is, and the way to stop it; what became of one that was stopped. */
const props = defineProps<{ job: JobInfo | null; running: boolean; label: string; of: string }>()
const emit = defineEmits<{ stop: [] }>()
const progress = computed(() => {
  const { done = 0, total = null, secondsLeft = null } = props.job?.progress ?? {}
  if (total === null) return `${props.label}: starting`
  const left = secondsLeft === null || secondsLeft < 1 ? '' : `, about ${Math.ceil(secondsLeft)} s left`
  return `${props.label}: ${done} of ${total} ${props.of}${left}`
})
</script>

<template>
  <div v-if="running" class="line line-b">
    <v-progress-circular indeterminate size="14" width="2" :aria-label="label" />
    <span data-test="progress">{{ progress }}</span>
    <v-btn size="small" variant="outlined" @click="emit('stop')">Stop</v-btn>
  </div>
  <div v-else-if="job?.state === 'cancelled'" class="line line-b quiet">{{ label }}: stopped. Results so far are below.</div>
</template>

<style scoped>
.line {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 5px 12px;
}
</style>
