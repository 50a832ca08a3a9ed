<script setup lang="ts">
import type { ReleaseEntry } from '@patient-hook/contract'
import EmptyState from '../../components/EmptyState.vue'
import PlainTable from '../../components/grid/PlainTable.vue'
import MomentText from '../../components/MomentText.vue'

/** Activity with releases and switches, newest first. */
defineProps<{ entries: readonly ReleaseEntry[] }>()
</script>

<template>
  <EmptyState v-if="entries.length === 0" title="No activity yet"
    >Releases, pilots, rollbacks and hook switches appear here.</EmptyState
  >
  <div v-else class="scroll fill log" tabindex="0" aria-label="Activity">
    <PlainTable label="Activity">
      <thead>
        <tr>
          <th scope="col">when</th>
          <th scope="col">who</th>
          <th scope="col">what</th>
          <th scope="col">of</th>
          <th scope="col">more</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(entry, index) in entries" :key="index">
          <td class="quiet"><MomentText :at="entry.at" /></td>
          <td>{{ entry.user }}</td>
          <td>
            <strong>{{ entry.what }}</strong>
          </td>
          <td>{{ entry.hook ?? entry.version }}</td>
          <td class="detail">{{ entry.detail }}</td>
        </tr>
      </tbody>
    </PlainTable>
  </div>
</template>

<style scoped>
.log {
  padding: 4px 16px;
}
.detail {
  white-space: normal;
}
</style>
