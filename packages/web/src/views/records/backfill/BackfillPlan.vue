<script setup lang="ts">
import type { BackfillPlan } from '@patient-hook/contract'
import { show } from '../../../lib/text'
import FigureTable from './FigureTable.vue'

/** What a rehearsal of the backfill showed. */
defineProps<{ plan: BackfillPlan; table: string }>()
</script>

<template>
  <section aria-label="Plan">
    <p role="status">
      <strong>{{ plan.total }} {{ plan.total === 1 ? 'record fits' : 'records fit' }}</strong
      >{{ plan.tried < plan.total ? `, of which the first ${plan.tried} were tried` : '' }}; {{ plan.figures.changed }} would
      change. All would take about {{ Math.max(1, Math.ceil(plan.seconds)) }} s.
      <span class="quiet">It was a rehearsal: nothing was kept.</span>
    </p>
    <FigureTable :figures="plan.figures" :left="plan.left" />
    <table v-if="plan.samples.length" class="plain-table" aria-label="Samples">
      <thead>
        <tr>
          <th scope="col">record</th>
          <th scope="col">field</th>
          <th scope="col">was</th>
          <th scope="col">would be</th>
          <th scope="col">by</th>
        </tr>
      </thead>
      <tbody v-for="sample in plan.samples" :key="sample.id">
        <tr v-for="(change, at) in sample.changes" :key="change.field">
          <td>
            <router-link v-if="at === 0" class="link" :to="{ name: 'records', params: { table, id: String(sample.id) } }"
              >{{ table }} {{ sample.id }}</router-link
            >
          </td>
          <td>{{ change.field }}</td>
          <td>{{ show(change.from) }}</td>
          <td class="copper">{{ show(change.to) }}</td>
          <td class="quiet">{{ change.by }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
section > * {
  margin-top: 8px;
}
td {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
