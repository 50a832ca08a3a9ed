<script setup lang="ts">
import type { HistoryEntry, Value } from '@patient-hook/contract'
import { show } from '../../lib/text'

/** Every kept change of a record, the newest first. */
defineProps<{ entries: readonly HistoryEntry[] }>()
const emit = defineEmits<{ why: [field: string] }>()
/** Fields that got another name with their table. */
const renamed = (entry: HistoryEntry) =>
  entry.patch.flatMap(({ op, from, path }) => (op === 'move' ? [`${from!.slice(1)} renamed to ${path.slice(1)}`] : []))
const when = (at: string) => `${at.slice(0, 16).replace('T', ' ')} UTC`
</script>

<template>
  <section>
    <h3>History</h3>
    <p v-if="entries.length === 0" class="quiet small">No changes since this record was imported.</p>
    <ol>
      <li v-for="entry in [...entries].reverse()" :key="`${entry.save}-${entry.depth}`" class="line-t">
        <div class="small">
          <strong>{{ entry.event === 'model' ? 'the table was changed' : entry.event }}</strong> by {{ entry.user }}
          <span class="quiet"
            >{{ when(entry.at) }} ·
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
          <v-btn class="link mono field" title="Why this value?" @click="emit('why', change.field)">
            {{ change.field }}
          </v-btn>
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
.field {
  text-align: left;
}
.change {
  display: grid;
  grid-template-columns: 130px 1fr auto;
  gap: 8px;
  overflow-wrap: anywhere;
}
</style>
