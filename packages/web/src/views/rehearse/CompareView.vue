<script setup lang="ts">
import type { Rehearsal } from '@patient-hook/contract'
import { computed } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import { compareRuns } from '../../lib/run/compare-runs'
import PlainTable from '../../components/grid/PlainTable.vue'

/** The run beside one that was held: before and after a change of code, of user, or of a value. */
const props = defineProps<{ held: { run: Rehearsal; word: string } | null; run: Rehearsal }>()
const emit = defineEmits<{ hold: [] }>()
const differences = computed(() => (props.held ? compareRuns(props.held.run, props.run) : []))
</script>

<template>
  <div class="compare scroll" tabindex="0" aria-label="Compare">
    <EmptyState v-if="!held" title="No baseline yet">
      <v-btn variant="outlined" color="primary" @click="emit('hold')">Set as baseline</v-btn>
      Then change the code, the user or a value, and compare.
    </EmptyState>
    <template v-else>
      <p class="small">Baseline: {{ held.word }}. <v-btn @click="emit('hold')">Set as baseline instead</v-btn></p>
      <p v-if="differences.length === 0" role="status">The two runs are identical.</p>
      <PlainTable label="Differences" v-else>
        <thead>
          <tr>
            <th scope="col">what</th>
            <th scope="col">where</th>
            <th scope="col">baseline</th>
            <th scope="col">now</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(each, index) in differences.slice(0, 500)" :key="index">
            <td class="quiet">{{ each.kind }}</td>
            <td class="mono">{{ each.where }}</td>
            <td>{{ each.before ?? '—' }}</td>
            <td class="copper">{{ each.after ?? '—' }}</td>
          </tr>
        </tbody>
      </PlainTable>
      <p v-if="differences.length > 500" class="quiet">and {{ differences.length - 500 }} more</p>
    </template>
  </div>
</template>

<style scoped>
.compare {
  height: 100%;
  padding: 6px 14px 16px;
}
td {
  white-space: normal !important;
  max-width: 36ch;
  overflow-wrap: anywhere;
  vertical-align: top;
}
</style>
