<script setup lang="ts">
import type { JobInfo, TestResult } from '@patient-hook/contract'
import { computed } from 'vue'
import { placeOf } from '../../lib/text'
import EmptyState from '../../components/EmptyState.vue'
import JobLine from '../../components/JobLine.vue'

/** Results of unit tests, failures first, with what was expected and what came. */
const props = defineProps<{ results: readonly TestResult[] | null; job: JobInfo | null; running: boolean }>()
const emit = defineEmits<{ stop: [] }>()

const sorted = computed(() =>
  [...(props.results ?? [])].sort((a, b) => Number(b.status === 'failed') - Number(a.status === 'failed')),
)
const counts = computed(() => {
  const of = (status: TestResult['status']) => (props.results ?? []).filter((each) => each.status === status).length
  return { passed: of('passed'), failed: of('failed'), skipped: of('skipped') }
})
</script>

<template>
  <div class="column panel" aria-live="polite">
    <JobLine :job="job" :running="running" label="Tests run" of="files" @stop="emit('stop')" />
    <EmptyState v-if="running && !results?.length" title="Running…"
      >Each test starts from its fixture set and keeps nothing.</EmptyState
    >
    <EmptyState v-else-if="!results" title="Not run yet">Run the tests of this plugin with Ctrl+Shift+Enter.</EmptyState>
    <EmptyState v-else-if="results.length === 0" title="This plugin has no tests"
      >Put a file ending in .test.ts into its tests/ folder.</EmptyState
    >
    <template v-else>
      <div class="head line-b">
        <strong data-test="summary"
          >{{ counts.passed }} passed, {{ counts.failed }} failed<template v-if="counts.skipped"
            >, {{ counts.skipped }} skipped</template
          ></strong
        >
      </div>
      <ul class="scroll fill">
        <li v-for="result in sorted" :key="result.file + result.name" class="line-b">
          <span :class="result.status === 'failed' ? 'refused' : 'quiet'">{{
            { passed: '✓', failed: '×', skipped: '–' }[result.status]
          }}</span>
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
          </div>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.panel {
  height: 100%;
}
.head {
  padding: 5px 12px;
}
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
