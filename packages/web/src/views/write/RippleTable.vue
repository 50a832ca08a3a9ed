<script setup lang="ts">
import type { Place, RowOut } from '@patient-hook/contract'
import { show } from '../../lib/text'
import ChangeMark from '../../components/ChangeMark.vue'
import TypedOver from '../../components/TypedOver.vue'
import { wroteOn } from './written'

/** The records that effects changed, one line for each value. */
defineProps<{ ripples: readonly RowOut[]; line: Place | null }>()
const emit = defineEmits<{ choose: [row: RowOut, at: Place | null] }>()
</script>

<template>
  <div class="scroll" tabindex="0" aria-label="Ripples">
    <table class="data-grid">
      <thead>
        <tr>
          <th scope="col">record</th>
          <th scope="col">depth</th>
          <th scope="col">field</th>
          <th scope="col">was</th>
          <th scope="col">now</th>
          <th scope="col">by</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="row in ripples" :key="`${row.table}${row.id}${row.depth}`">
          <tr
            v-for="change in row.changes"
            :key="change.field"
            :class="{ here: wroteOn(change, line) }"
            @click="emit('choose', row, change.at ?? null)"
          >
            <td>{{ row.table }} {{ row.id }}</td>
            <td>{{ row.depth }}</td>
            <td>{{ change.field }}</td>
            <td class="quiet">{{ show(change.from) }}</td>
            <td>
              <ChangeMark :change="change" /> {{ show(change.to) }}
              <TypedOver v-if="change.overwrites !== undefined" :typed="change.overwrites" :by="change.by" />
            </td>
            <td>{{ change.by }}</td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
tr.here td {
  background: rgba(var(--v-theme-copper), 0.26);
}
</style>
