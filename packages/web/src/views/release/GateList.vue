<script setup lang="ts">
import { GATE_RULES, type GateResult, type GateRuleName } from '@patient-hook/contract'
import { computed } from 'vue'

/** What stands between the working copy and its release, rule by rule. */
const props = defineProps<{ gate: readonly GateResult[]; running: boolean }>()
const SAYS: Record<GateRuleName, string> = {
  model: 'Tables and fields exist',
  types: 'No type errors',
  findings: 'No findings of level error',
  tests: 'Unit tests pass',
  coverage: 'Coverage is no lower than before',
  bulk: 'Bulk proofs pass',
}
const rules = computed(() =>
  GATE_RULES.map((what) => ({ what, says: SAYS[what], result: props.gate.find((each) => each.what === what) })),
)
</script>

<template>
  <ul class="gate" aria-label="Release checks">
    <li v-for="{ what, says, result } in rules" :key="what" :class="result ? (result.holds ? 'holds' : 'broken') : 'open'">
      <span class="sign" aria-hidden="true">{{ result ? (result.holds ? '✓' : '×') : '·' }}</span>
      <div>
        <strong>{{ says }}</strong>
        <span v-if="!result" class="quiet small says">{{ running ? 'running' : 'not run yet' }}</span>
        <span v-else-if="result.holds" class="quiet small says">{{ result.detail }}</span>
        <ul v-else class="small">
          <li v-for="line in result.detail.split('\n')" :key="line">{{ line }}</li>
          <li>
            <router-link class="link" :to="{ name: 'prove' }">Show the evidence</router-link>
          </li>
        </ul>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.gate {
  list-style: none;
}
.gate > li {
  display: flex;
  gap: 8px;
  padding: 2px 0;
}
.gate ul {
  padding-left: 16px;
  overflow-wrap: anywhere;
}
strong {
  font-weight: 560;
}
.says {
  margin-left: 8px;
}
.sign {
  width: 1em;
  font-weight: 700;
}
.holds .sign {
  color: rgb(var(--v-theme-success));
}
.broken .sign {
  color: rgb(var(--v-theme-error));
}
</style>
