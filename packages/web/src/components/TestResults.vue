<script setup lang="ts">
import type { TestResult } from '@patient-hook/contract'
import { computed } from 'vue'
import { placeOf } from '../lib/text'
import TestStory from './TestStory.vue'

/** Results of unit tests, failures first, with what was expected and what came, and what the saves of a failed one did. */
const props = defineProps<{ results: readonly TestResult[] }>()
const sorted = computed(() => [...props.results].sort((a, b) => Number(b.status === 'failed') - Number(a.status === 'failed')))
const MARKS = { passed: '✓', failed: '×', skipped: '–' }
</script>

<template>
  <ul aria-label="Tests">
    <li v-for="result in sorted" :key="result.file + result.name" class="line-b">
      <span :class="result.status === 'failed' ? 'refused' : 'quiet'">{{ MARKS[result.status] }}</span>
      <span :class="{ quiet: result.status !== 'failed' }"> {{ result.name }}</span>
      <span class="quiet small"> {{ result.ms }} ms</span>
      <div v-if="result.error" class="error">
        <div class="mono small quiet">{{ placeOf(result.error) }}</div>
        <div v-if="result.error.expected !== undefined" class="difference">
          <div>
            <span class="small quiet">expected</span>
            <pre>{{ result.error.expected }}</pre>
          </div>
          <div>
            <span class="small quiet">received</span>
            <pre class="refused">{{ result.error.received }}</pre>
          </div>
        </div>
        <pre v-else>{{ result.error.message }}</pre>
        <TestStory :result="result" />
      </div>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
}
li > span {
  margin-right: 7px;
}
li {
  padding: 4px 12px;
}
.error {
  margin: 4px 0 4px 16px;
}
.difference {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
pre {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  font-family: var(--mono);
  font-size: 12.5px;
}
</style>
