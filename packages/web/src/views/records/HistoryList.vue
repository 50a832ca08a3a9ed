<script setup lang="ts">
import type { HistoryEntry, Table, Value } from '@patient-hook/contract'
import MomentText from '../../components/MomentText.vue'
import { show } from '../../lib/text'
import { ICONS } from '../../theme/icons'

/** Every committed change of a record as a timeline, the newest first. */
const props = defineProps<{ entries: readonly HistoryEntry[]; table: Table }>()
const emit = defineEmits<{ why: [field: string] }>()

/** Fields that got another name with their table. */
const renamed = (entry: HistoryEntry) =>
  entry.patch.flatMap(({ op, from, path }) => (op === 'move' ? [`${from!.slice(1)} renamed to ${path.slice(1)}`] : []))
const labelOf = (field: string) => props.table.fields.find(({ name }) => name === field)?.label ?? field
const EVENTS: Record<string, { word: string; icon: string; color: string }> = {
  create: { word: 'created', icon: ICONS.add, color: 'success' },
  update: { word: 'changed', icon: ICONS.write, color: 'primary' },
  delete: { word: 'removed', icon: ICONS.close, color: 'error' },
  model: { word: 'table changed', icon: ICONS.model, color: 'secondary' },
}
const eventOf = (entry: HistoryEntry) => EVENTS[entry.event] ?? { word: entry.event, icon: ICONS.write, color: 'primary' }
</script>

<template>
  <section aria-label="History">
    <h3>History</h3>
    <p v-if="entries.length === 0" class="quiet small">No changes since this record was imported.</p>
    <v-timeline v-else side="end" density="compact" align="start" truncate-line="both" class="times">
      <v-timeline-item
        v-for="entry in [...entries].reverse()"
        :key="`${entry.save}-${entry.depth}`"
        size="22"
        :icon="eventOf(entry).icon"
        :dot-color="eventOf(entry).color"
        icon-color="surface"
        width="100%"
      >
        <div class="small">
          <strong>{{ eventOf(entry).word }}</strong> by {{ entry.user }}
          <span class="quiet"
            ><MomentText :at="entry.at" /> ·
            <router-link class="link" :to="{ name: 'saves', params: { id: String(entry.save) } }"
              >save {{ entry.save }}</router-link
            ><template v-if="entry.depth"> · ripple, depth {{ entry.depth }}</template>
            <template v-if="entry.event !== 'model'">
              ·
              <router-link class="link" :to="{ name: 'rehearse', query: { on: `before-${entry.save}` } }">rehearse</router-link>
            </template></span
          >
        </div>
        <div v-for="each in renamed(entry)" :key="each" class="small">{{ each }}</div>
        <div v-for="change in entry.changes" :key="change.field" class="change small">
          <v-btn class="link field" :title="`Why this value of ${change.field}?`" @click="emit('why', change.field)">
            {{ labelOf(change.field) }}
          </v-btn>
          <span
            ><s class="quiet">{{ show(change.from as Value) }}</s> → {{ show(change.to as Value) }}</span
          >
          <span class="quiet">{{ change.by }}</span>
        </div>
      </v-timeline-item>
    </v-timeline>
  </section>
</template>

<style scoped>
h3 {
  font-size: 13px;
  margin: 14px 0 4px;
}
.times {
  /* Nothing is on the other side of the line. */
  grid-template-columns: 0 min-content minmax(0, 1fr);
}
.field {
  justify-content: start;
  text-align: left;
}
.change {
  display: grid;
  grid-template-columns: 130px 1fr auto;
  gap: 8px;
  align-items: baseline;
  overflow-wrap: anywhere;
}
</style>
