<script setup lang="ts">
import type { CoverageGap, CoveredFile } from '@patient-hook/contract'
import { ref, watch } from 'vue'
import { useDrafts } from '../../stores/drafts'
import PlainTable from '../../components/grid/PlainTable.vue'

/** What no test ran of the chosen hook, with the code that stands there. */
const props = defineProps<{ coverage: CoveredFile }>()
const emit = defineEmits<{ line: [file: string, line: number] }>()
const drafts = useDrafts()

const lines = ref<string[]>([])
watch(
  () => props.coverage.file,
  async (file) => {
    lines.value = []
    await drafts.open(file)
    if (file === props.coverage.file) lines.value = drafts.textOf(file).split('\n')
  },
  { immediate: true },
)

/** The gap's own code, in one line. */
function codeOf({ line, column, endLine, endColumn }: CoverageGap): string {
  const first = lines.value[line - 1] ?? ''
  const code = line === endLine ? first.slice(column - 1, endColumn - 1) : `${first.slice(column - 1)} …`
  return code.trim()
}
const SAYS = {
  statement: 'not covered by any test',
  branch: 'no test takes this branch',
  around: 'no test takes the other branch',
}
</script>

<template>
  <section aria-label="Coverage">
    <p>
      {{ coverage.statements.covered }} of {{ coverage.statements.total }} statements and {{ coverage.branches.covered }} of
      {{ coverage.branches.total }} branches covered by {{ coverage.tests.length }} tests.
      <v-btn class="link" @click="emit('line', coverage.file, coverage.gaps[0]?.line ?? 1)"> Show in the editor </v-btn>
    </p>
    <PlainTable label="Uncovered code" v-if="coverage.gaps.length">
      <tbody>
        <tr v-for="(gap, at) in coverage.gaps" :key="at">
          <td>
            <v-btn class="link" @click="emit('line', coverage.file, gap.line)">line {{ gap.line }}</v-btn>
          </td>
          <td class="refused small">{{ SAYS[gap.kind] }}</td>
          <td class="mono small code">{{ codeOf(gap) }}</td>
        </tr>
      </tbody>
    </PlainTable>
  </section>
</template>

<style scoped>
section {
  padding: 6px 0;
}
.link {
  color: rgb(var(--v-theme-primary));
}
td {
  padding-right: 14px;
}
.code {
  white-space: pre-wrap;
}
</style>
