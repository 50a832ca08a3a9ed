<script setup lang="ts">
import type { BackfillPlan } from '@patient-hook/contract'
import { computed } from 'vue'
import ChangeTable from '../../../components/ChangeTable.vue'
import FigureTable from './FigureTable.vue'

/** What a rehearsal of the backfill showed. */
const props = defineProps<{ plan: BackfillPlan; table: string }>()
const samples = computed(() => props.plan.samples.map((sample) => ({ ...sample, table: props.table, depth: 0 })))
</script>

<template>
  <section aria-label="Plan">
    <p role="status">
      <strong>{{ plan.total }} {{ plan.total === 1 ? 'record fits' : 'records fit' }}</strong
      >{{ plan.tried < plan.total ? `, of which the first ${plan.tried} were tried` : '' }}; {{ plan.figures.changed }} would
      change. The whole backfill takes about {{ Math.max(1, Math.ceil(plan.seconds)) }} s.
      <span class="quiet">This was a rehearsal. No changes were saved.</span>
    </p>
    <FigureTable :figures="plan.figures" :left="plan.left" />
    <ChangeTable v-if="plan.samples.length" label="Samples" :records="samples" :words="['was', 'would be']" rehearsed />
  </section>
</template>

<style scoped>
section > * {
  margin-top: 8px;
}
</style>
