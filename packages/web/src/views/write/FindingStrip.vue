<script setup lang="ts">
import type { Report } from '../../language/protocol'
import type { Finding } from '@patient-hook/core/findings'
import { computed } from 'vue'

/** What is to be fixed in the open file, where it stands, and the fix. */
const props = defineProps<{ report: Report }>()
const emit = defineEmits<{ go: [line: number]; fix: [finding: Finding] }>()

/** Our findings first: what TypeScript makes of a wrong name is often long. */
const items = computed(() => [
  ...props.report.findings.map((each) => ({ ...each, source: each.rule, finding: each as Finding | null })),
  ...props.report.diagnostics.map((each) => ({ ...each, source: `TS${each.code}`, finding: null as Finding | null })),
])
</script>

<template>
  <ul v-if="items.length" class="strip line-t scroll" aria-label="Findings" tabindex="0">
    <li v-for="item in items" :key="`${item.source}${item.line}:${item.column}`">
      <v-btn class="place mono" @click="emit('go', item.line)">line {{ item.line }}</v-btn>
      <b :class="item.severity === 'error' ? 'refused' : item.severity === 'hint' ? 'quiet' : 'warn'">{{ item.severity }}</b>
      <span class="text"
        >{{ item.message }}
        <router-link
          v-if="item.finding"
          class="link mono"
          :to="{ name: 'help', params: { page: 'findings' }, hash: `#${item.source}` }"
          >{{ item.source }}</router-link
        >
        <span v-else class="quiet mono">{{ item.source }}</span></span
      >
      <v-btn
        v-if="item.finding?.fix"
        size="x-small"
        density="default"
        variant="outlined"
        color="primary"
        @click="emit('fix', item.finding)"
        >{{ item.finding.fix.title }}</v-btn
      >
    </li>
  </ul>
</template>

<style scoped>
.strip {
  list-style: none;
  max-height: 96px;
  background: rgb(var(--v-theme-surface));
  font-size: 12.5px;
}
li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 2px 12px;
}
.place {
  color: rgb(var(--v-theme-primary));
  text-decoration: underline;
  white-space: nowrap;
}
.text {
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.warn {
  color: rgb(var(--v-theme-warning));
}
</style>
