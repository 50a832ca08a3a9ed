<script setup lang="ts">
import type { InputRow } from '@patient-hook/contract'
import { computed, ref, watch } from 'vue'
import PanelSwitch from '../../components/PanelSwitch.vue'
import TestResults from '../../components/TestResults.vue'
import BulkEvidence from './BulkEvidence.vue'
import CoverageGaps from './CoverageGaps.vue'
import FindingList from './FindingList.vue'
import MutantList from './MutantList.vue'
import { findingsFigure, mutantsFigure, testsFigure, type ProofLine } from './proofs'

/** What is known of the chosen hook, part by part; it opens at the first part in which something is amiss. */
const props = defineProps<{ line: ProofLine }>()
const emit = defineEmits<{
  rehearse: [rows: InputRow[], fixtures: string | null, table: string]
  line: [file: string, line: number]
}>()

const PANELS = {
  findings: 'Findings',
  tests: 'Tests',
  coverage: 'Coverage',
  mistakes: 'Mutations',
  bulk: 'Bulk proof',
} as const
type Panel = keyof typeof PANELS

function firstAmiss(line: ProofLine): Panel {
  if (line.hook === null) return 'bulk'
  if (findingsFigure(line).tone === 'bad') return 'findings'
  if (testsFigure(line).tone === 'bad') return 'tests'
  if (Object.values(line.verdicts).some((verdict) => !verdict.holds && !verdict.accepted)) return 'bulk'
  if (mutantsFigure(line).tone === 'bad') return 'mistakes'
  return Object.keys(line.verdicts).length > 0 || !line.mutants ? 'bulk' : 'mistakes'
}
const panel = ref<Panel>(firstAmiss(props.line))
/** Anyone who chose a part stays there from hook to hook. */
const chosen = ref<Panel | null>(null)
watch(
  () => props.line,
  (line) => (panel.value = line.hook === null ? 'bulk' : (chosen.value ?? firstAmiss(line))),
)
const shown = computed({
  get: () => panel.value,
  set: (part: Panel) => (chosen.value = panel.value = part),
})
const goTo = (file: string, line: number) => emit('line', file, line)
</script>

<template>
  <div class="column evidence">
    <div class="head line-b">
      <h2>{{ line.hook ?? `All hooks of ${line.table}` }}</h2>
      <PanelSwitch v-if="line.hook" v-model="shown" :panels="PANELS" label="Evidence of" />
    </div>
    <section class="scroll fill body" tabindex="0" aria-label="Evidence">
      <BulkEvidence v-if="shown === 'bulk'" :line="line" @rehearse="(...of) => emit('rehearse', ...of)" />
      <template v-else-if="shown === 'findings'">
        <FindingList v-if="line.findings" :findings="line.findings" @line="goTo" />
        <p v-else class="quiet">Not analyzed yet.</p>
      </template>
      <template v-else-if="shown === 'tests'">
        <TestResults v-if="line.tests?.length" :results="line.tests" />
        <p v-else-if="line.tests" class="quiet">No unit test runs this hook.</p>
        <p v-else class="quiet">The tests have not run on this version of the code.</p>
      </template>
      <template v-else-if="shown === 'coverage'">
        <CoverageGaps v-if="line.coverage" :coverage="line.coverage" @line="goTo" />
        <p v-else class="quiet">The tests have not run on this version of the code.</p>
      </template>
      <template v-else>
        <MutantList v-if="line.mutants" :results="line.mutants" @rehearse="(...of) => emit('rehearse', ...of)" @line="goTo" />
        <p v-else class="quiet">No mutations have run yet.</p>
      </template>
    </section>
  </div>
</template>

<style scoped>
.evidence {
  height: 100%;
}
.head {
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 4px 16px;
}
.body {
  padding: 8px 16px 24px;
}
h2 {
  font-size: 16px;
}
</style>
