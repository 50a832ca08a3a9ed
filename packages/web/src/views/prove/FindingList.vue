<script setup lang="ts">
import type { CodeFinding } from '@patient-hook/contract'

/** Errors of types and known traps in the chosen hook. */
defineProps<{ findings: readonly CodeFinding[] }>()
const emit = defineEmits<{ line: [file: string, line: number] }>()
</script>

<template>
  <section aria-label="Findings">
    <p v-if="findings.length === 0">No type errors and no findings.</p>
    <article v-for="(finding, at) in findings" :key="at" class="line-b">
      <span :class="finding.severity === 'error' ? 'refused' : 'copper'">{{ finding.severity }}</span>
      <span class="mono small">{{ finding.rule }}</span>
      <v-btn class="link" @click="emit('line', finding.file, finding.line)">line {{ finding.line }}</v-btn>
      <p>{{ finding.message }}</p>
    </article>
  </section>
</template>

<style scoped>
section,
article {
  padding: 6px 0;
}
article > * {
  margin-right: 8px;
}
.link {
  color: rgb(var(--v-theme-primary));
}
</style>
