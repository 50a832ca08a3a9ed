<script setup lang="ts">
import { BULK_PROPERTIES, BULK_SAYS, type InputRow } from '@patient-hook/contract'
import { Pane } from 'splitpanes'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import JobLine from '../../components/JobLine.vue'
import SplitBox from '../../components/SplitBox.vue'
import { useHandover } from '../../stores/handover'
import { useHooks } from '../../stores/hooks'
import ProofEvidence from './ProofEvidence.vue'
import { HEADS, MARK_WORDS, SIGNS, bulkWord, markOf, proofLines } from './proofs'
import { useBulkProof, useMutants } from './use-proof'

/** Evidence that hooks are bulk safe: a line for each, and below it what was measured of the chosen one. */
const route = useRoute()
const router = useRouter()
const hooks = useHooks()
const handover = useHandover()
const { results: verdicts, isStale, job, error, running, prove, stop } = useBulkProof()
const mutants = useMutants()

const lines = computed(() => proofLines(hooks.all, isStale.value ? [] : verdicts.value))
const chosen = computed(() => lines.value.find((line) => line.key === route.params['hook']) ?? lines.value[0])
const choose = (key: string) => router.push({ name: 'prove', params: { hook: key } })
const hasVerdicts = computed(() => verdicts.value.length > 0)

const mutantsOf = (hook: string | null) =>
  mutants.isStale.value ? [] : mutants.results.value.filter((each) => each.hook === hook)
/** Of the mistakes that could be tried, those that a test noticed. */
function caughtWord(hook: string | null): string {
  const tried = mutantsOf(hook).filter(({ outcome }) => outcome === 'caught' || outcome === 'missed')
  return tried.length === 0 ? '·' : `${tried.filter(({ outcome }) => outcome === 'caught').length}/${tried.length}`
}
const anyStale = computed(() => isStale.value || mutants.isStale.value)

/** The rows as a save that is not kept, on the records that they were tried on. */
function rehearse(rows: InputRow[], fixtures: string | null, table: string): void {
  handover.give(rows, fixtures === null ? {} : { fixtures })
  void router.push({ name: 'rehearse', params: { table } })
}
function goToLine(file: string): void {
  const owner = hooks.all.find((each) => each.file === file)
  if (owner) void router.push({ name: 'write', params: { hook: owner.name } })
}
</script>

<template>
  <div class="column view">
    <div class="bar line-b small">
      <strong>Bulk proof</strong>
      <v-btn size="small" variant="flat" color="primary" :disabled="running" @click="prove()">Prove all</v-btn>
      <v-btn
        v-if="chosen?.hook"
        size="small"
        variant="outlined"
        color="primary"
        :disabled="running"
        @click="prove([chosen!.hook!])"
        >Prove {{ chosen.hook }}</v-btn
      >
      <span class="divider" />
      <strong>Small mistakes</strong>
      <v-btn size="small" variant="outlined" color="primary" :disabled="mutants.running.value" @click="mutants.prove()"
        >Try all</v-btn
      >
      <v-btn
        v-if="chosen?.hook"
        size="small"
        variant="outlined"
        color="primary"
        :disabled="mutants.running.value"
        @click="mutants.prove([chosen!.hook!])"
        >Try {{ chosen.hook }}</v-btn
      >
      <span v-if="hasVerdicts" class="divider" />
      <span v-if="hasVerdicts && !isStale" role="status">{{ bulkWord(lines) }}</span>
      <span v-else-if="anyStale" class="copper" role="status">The code has changed since: nothing of it is proved yet.</span>
    </div>
    <JobLine :job="job" :running="running" label="The proof runs" of="properties" @stop="stop" />
    <JobLine
      :job="mutants.job.value"
      :running="mutants.running.value"
      label="Mistakes are tried"
      of="mistakes"
      @stop="mutants.stop"
    />
    <ErrorNote v-if="error ?? mutants.error.value" :error="(error ?? mutants.error.value)!.report" />
    <EmptyState v-if="lines.length === 0" title="No hooks yet">Write one first: it is proved here.</EmptyState>
    <SplitBox v-else horizontal class="fill">
      <Pane :size="50" :min-size="15">
        <div class="scroll list" tabindex="0" aria-label="Hooks and what is proved of them">
          <table class="plain-table">
            <thead>
              <tr>
                <th scope="col">hook</th>
                <th scope="col">table</th>
                <th scope="col">moment</th>
                <th scope="col" title="small mistakes that a unit test notices">mistakes caught</th>
                <th v-for="property in BULK_PROPERTIES" :key="property" scope="col" :title="BULK_SAYS[property]">
                  {{ HEADS[property] }}
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="line in lines" :key="line.key" :class="{ chosen: line.key === chosen?.key, whole: !line.hook }">
                <td>
                  <button type="button" class="link" :aria-current="line.key === chosen?.key" @click="choose(line.key)">
                    {{ line.hook ?? `all of ${line.table}` }}
                  </button>
                </td>
                <td class="mono small">{{ line.table }}</td>
                <td class="quiet small">{{ line.moment }}</td>
                <td class="cell">{{ line.hook ? caughtWord(line.hook) : '' }}</td>
                <td v-for="property in BULK_PROPERTIES" :key="property" class="cell">
                  <span
                    :class="`mark ${markOf(line.verdicts[property])}`"
                    :title="`${property}: ${line.verdicts[property]?.reason ?? MARK_WORDS[markOf(line.verdicts[property])]}`"
                    role="img"
                    :aria-label="MARK_WORDS[markOf(line.verdicts[property])]"
                    >{{ SIGNS[markOf(line.verdicts[property])] }}</span
                  >
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </Pane>
      <Pane :size="50" :min-size="15">
        <ProofEvidence v-if="chosen" :line="chosen" :mutants="mutantsOf(chosen.hook)" @rehearse="rehearse" @line="goToLine" />
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
.divider {
  border-left: 1px solid rgb(var(--v-theme-line));
  height: 18px;
}
.list {
  height: 100%;
  padding: 0 12px 12px;
}
.link {
  color: rgb(var(--v-theme-primary));
}
.chosen {
  background: rgba(var(--v-theme-primary), 0.12);
}
.whole td {
  border-bottom-width: 2px;
}
.cell {
  text-align: center;
}
.mark {
  font-weight: 700;
}
.holds {
  color: rgb(var(--v-theme-success));
}
.accepted {
  color: rgb(var(--v-theme-warning));
}
.broken {
  color: rgb(var(--v-theme-error));
}
</style>
