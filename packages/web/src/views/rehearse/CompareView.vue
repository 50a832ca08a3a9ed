<script setup lang="ts">
import type { Rehearsal } from '@patient-hook/contract'
import { computed } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import { compareRuns } from '../../lib/run/compare-runs'

/** The run beside one that was held: before and after a change of code, of user, or of a value. */
const props = defineProps<{ held: { run: Rehearsal; word: string } | null; run: Rehearsal }>()
const emit = defineEmits<{ hold: [] }>()
const differences = computed(() => (props.held ? compareRuns(props.held.run, props.run) : []))
</script>

<template>
  <div class="compare scroll" tabindex="0" aria-label="Compare">
    <EmptyState v-if="!held" title="Nothing to compare with yet">
      <v-btn size="small" variant="outlined" color="primary" @click="emit('hold')">Hold this run</v-btn>
      Then change the code, the user or a value.
    </EmptyState>
    <template v-else>
      <p class="small">Held: {{ held.word }}. <v-btn size="small" @click="emit('hold')">Hold this run instead</v-btn></p>
      <p v-if="differences.length === 0" role="status">The two runs came out the same.</p>
      <table v-else class="plain-table">
        <thead>
          <tr>
            <th scope="col">what</th>
            <th scope="col">where</th>
            <th scope="col">held</th>
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
      </table>
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
