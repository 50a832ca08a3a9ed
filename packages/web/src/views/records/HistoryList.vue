<script setup lang="ts">
import type { HistoryEntry, Value } from '@patient-hook/contract'
import { show } from '../../lib/text'

/** Every kept change of a record, the newest first. */
defineProps<{ entries: readonly HistoryEntry[] }>()
const when = (at: string) => `${at.slice(0, 16).replace('T', ' ')} UTC`
</script>

<template>
  <section>
    <h3>History</h3>
    <p v-if="entries.length === 0" class="quiet small">No save has changed this record since it was brought in.</p>
    <ol>
      <li v-for="entry in [...entries].reverse()" :key="`${entry.save}-${entry.depth}`" class="line-t">
        <div class="small">
          <strong>{{ entry.event }}</strong> by {{ entry.user }}
          <span class="quiet"
            >{{ when(entry.at) }} · save {{ entry.save
            }}<template v-if="entry.depth"> · ripple, depth {{ entry.depth }}</template></span
          >
        </div>
        <div v-for="change in entry.changes" :key="change.field" class="change small">
          <span class="mono">{{ change.field }}</span>
          <span
            ><s class="quiet">{{ show(change.from as Value) }}</s> → {{ show(change.to as Value) }}</span
          >
          <span class="quiet">{{ change.by }}</span>
        </div>
      </li>
    </ol>
  </section>
</template>

<style scoped>
h3 {
  font-size: 13px;
  margin: 14px 0 4px;
}
ol {
  list-style: none;
}
li {
  padding: 5px 0;
}
.change {
  display: grid;
  grid-template-columns: 130px 1fr auto;
  gap: 8px;
  overflow-wrap: anywhere;
}
</style>
