<script setup lang="ts">
import type { CodeFinding } from '@patient-hook/contract'

/** Errors of types and known traps in the chosen hook. */
defineProps<{ findings: readonly CodeFinding[] }>()
const emit = defineEmits<{ line: [file: string, line: number] }>()
</script>

<template>
  <section aria-label="Findings">
    <p v-if="findings.length === 0">Neither an error of types nor a known trap.</p>
    <article v-for="(finding, at) in findings" :key="at" class="line-b">
      <span :class="finding.severity === 'error' ? 'refused' : 'copper'">{{ finding.severity }}</span>
      <span class="mono small">{{ finding.rule }}</span>
      <button type="button" class="link small" @click="emit('line', finding.file, finding.line)">line {{ finding.line }}</button>
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
