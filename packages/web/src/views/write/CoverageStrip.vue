<script setup lang="ts">
import type { LineCoverage } from '../../lib/line-coverage'

/** Which unit tests run the line that the cursor is on. */
defineProps<{ line: number; coverage: LineCoverage | undefined }>()
</script>

<template>
  <div class="strip small line-t" role="status">
    <span class="mono">line {{ line }}</span>
    <span v-if="!coverage" class="quiet">no statement starts on this line</span>
    <template v-else>
      <span :class="coverage.tone === 'run' ? 'quiet' : 'refused'">{{ coverage.says }}</span>
      <span v-if="coverage.tests.length" class="names" :title="coverage.tests.join('\n')">{{ coverage.tests.join(' · ') }}</span>
    </template>
  </div>
</template>

<style scoped>
.strip {
  display: flex;
  gap: 10px;
  padding: 2px 12px;
  white-space: nowrap;
  overflow: hidden;
}
.names {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
