<script setup lang="ts">
import type { JobInfo, TestResult } from '@patient-hook/contract'
import { computed } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import JobLine from '../../components/JobLine.vue'
import TestResults from '../../components/TestResults.vue'

/** A run of unit tests, and what came of it. */
const props = defineProps<{ hook: string; results: readonly TestResult[] | null; job: JobInfo | null; running: boolean }>()
const emit = defineEmits<{ stop: []; run: [] }>()
const filter = defineModel<string>('filter', { required: true })
const narrow = defineModel<boolean>('narrow', { required: true })

const counts = computed(() => {
  const of = (status: TestResult['status']) => (props.results ?? []).filter((each) => each.status === status).length
  return { passed: of('passed'), failed: of('failed'), skipped: of('skipped') }
})
</script>

<template>
  <div class="column panel" aria-live="polite">
    <form class="controls line-b small" @submit.prevent="emit('run')">
      <v-text-field type="search" label="Filter" v-model="filter" placeholder="file or test name" />
      <v-checkbox v-model="narrow" :label="`only tests affected by ${hook}`" />
      <v-btn variant="outlined" color="primary" type="submit" :disabled="running">Run</v-btn>
    </form>
    <JobLine :job="job" :running="running" label="Tests run" of="files" @stop="emit('stop')" />
    <EmptyState v-if="running && !results?.length" title="Running…"
      >Each test starts from its fixture set and leaves no records behind.</EmptyState
    >
    <EmptyState v-else-if="!results" title="Not run yet">Press Ctrl+Shift+Enter to run this plugin’s tests.</EmptyState>
    <EmptyState v-else-if="results.length === 0" title="No tests found"
      >Add a file ending in .test.ts to the plugin’s tests/ folder.</EmptyState
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
.controls {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 14px;
  padding: 4px 12px;
}
.head {
  padding: 5px 12px;
}
</style>
