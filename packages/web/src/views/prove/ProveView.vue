<script setup lang="ts">
import { PROOF_PARTS, type InputRow, type ProofPart } from '@patient-hook/contract'
import { useLocalStorage } from '@vueuse/core'
import { Pane } from 'splitpanes'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import JobLine from '../../components/JobLine.vue'
import SplitBox from '../../components/SplitBox.vue'
import { useHandover } from '../../stores/handover'
import { useHooks } from '../../stores/hooks'
import { useProofs } from '../../stores/proofs'
import EvidencePanel from './EvidencePanel.vue'
import ProofTable from './ProofTable.vue'
import { PARTS, bulkWord, needsAttention, proofLines } from './proofs'

/** What is proved of each hook, as the code stands: a line for each, and below it the evidence of the chosen one. */
const route = useRoute()
const router = useRouter()
const hooks = useHooks()
const handover = useHandover()
const proofs = useProofs()
const { parts } = proofs

const lines = computed(() =>
  proofLines(hooks.all, {
    findings: parts.findings.results,
    coverage: parts.coverage.results,
    mutation: parts.mutation.results,
    bulk: parts.bulk.results,
  }),
)
const amissOnly = ref(false)
const shownLines = computed(() => (amissOnly.value ? lines.value.filter(needsAttention) : lines.value))
const chosen = computed(() => lines.value.find((line) => line.key === route.params['hook']) ?? lines.value[0])
const choose = (key: string) => router.push({ name: 'prove', params: { hook: key } })

const staleWord = computed(() =>
  proofs.anyKnown
    ? `The code changed after the last run of ${proofs.stale.map((part) => PARTS[part].word).join(', ')}.`
    : 'The code changed. Its proofs have not run yet.',
)

/** What the buttons measure. */
const wanted = useLocalStorage<ProofPart[]>('patient-hook:proof-parts', [...PROOF_PARTS])
const isWanted = (part: ProofPart) => wanted.value.includes(part)
function want(part: ProofPart): void {
  wanted.value = PROOF_PARTS.filter((each) => (each === part ? !isWanted(each) : isWanted(each)))
}
async function prove(only?: string[]): Promise<void> {
  await Promise.all(PROOF_PARTS.filter(isWanted).map((part) => parts[part].prove(only)))
}

/** The rows as a save that is not kept, on the records that they were tried on. */
function rehearse(rows: InputRow[], fixtures: string | null, table: string): void {
  handover.give(rows, fixtures === null ? {} : { fixtures })
  void router.push({ name: 'rehearse', params: { table } })
}
function goToLine(file: string, line: number): void {
  const owner = hooks.all.find((each) => each.file === file)
  if (owner) void router.push({ name: 'write', params: { hook: owner.name }, query: { line } })
}
</script>

<template>
  <div class="column view">
    <div class="bar line-b small">
      <v-checkbox v-model="amissOnly" label="Needs attention" title="Only hooks with a proof that fails or has not run" />
      <v-btn variant="flat" color="primary" :disabled="proofs.running || !wanted.length" @click="prove()">Run all proofs</v-btn>
      <v-btn
        v-if="chosen?.hook"
        variant="outlined"
        color="primary"
        :disabled="proofs.running || !wanted.length"
        @click="prove([chosen!.hook!])"
        >Run proofs of {{ chosen.hook }}</v-btn
      >
      <span class="divider" />
      <v-checkbox
        v-for="part in PROOF_PARTS"
        :key="part"
        :title="PARTS[part].says"
        :model-value="isWanted(part)"
        @update:model-value="want(part)"
        :label="PARTS[part].word"
      />
      <router-link class="link" :to="{ name: 'fixtures' }">Fixture sets</router-link>
      <span class="divider" />
      <span v-if="parts.bulk.results?.length" role="status">{{ bulkWord(lines) }}</span>
      <span v-if="proofs.stale.length" class="copper" role="status">{{ staleWord }}</span>
    </div>
    <JobLine
      v-for="part in PROOF_PARTS"
      :key="part"
      :job="parts[part].job"
      :running="parts[part].running"
      :label="PARTS[part].running"
      :of="PARTS[part].of"
      @stop="parts[part].stop"
    />
    <ErrorNote v-if="proofs.failure" :error="proofs.failure.report" />
    <EmptyState v-if="lines.length === 0" title="No hooks yet">Create a hook first.</EmptyState>
    <SplitBox v-else name="prove" horizontal class="fill">
      <Pane :size="50" :min-size="15"><ProofTable :lines="shownLines" :chosen="chosen?.key" @choose="choose" /></Pane>
      <Pane :size="50" :min-size="15">
        <EvidencePanel v-if="chosen" :line="chosen" @rehearse="rehearse" @line="goToLine" />
      </Pane>
    </SplitBox>
  </div>
</template>

<style scoped>
.view {
  height: 100%;
}
.bar {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 12px;
  padding: 5px 12px;
}
.link {
  color: rgb(var(--v-theme-primary));
}
.divider {
  border-left: 1px solid rgb(var(--v-theme-line));
  height: 18px;
}
</style>
