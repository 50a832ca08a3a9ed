<script setup lang="ts">
import type { JobInfo, TestResult } from '@patient-hook/contract'
import { computed } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import JobLine from '../../components/JobLine.vue'
import TestResults from '../../components/TestResults.vue'

/** A run of unit tests, and what came of it. */
const props = defineProps<{ results: readonly TestResult[] | null; job: JobInfo | null; running: boolean }>()
const emit = defineEmits<{ stop: [] }>()

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
      <TestResults class="scroll fill" :results="results" />
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
</style>
