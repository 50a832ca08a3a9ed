<script setup lang="ts">
import type { Lookup, TestResult, Verdict } from '@patient-hook/contract'
import { computed } from 'vue'
import FoldBox from './FoldBox.vue'

/** What the saves of a failed test did: who ran and who did not, what was looked up, what was logged. */
const props = defineProps<{ result: TestResult }>()
/** In one list for hook, table and verdict; the reasons for skipping of one hook may differ. */
interface Station {
  text: string
  reason: string
  ids: number[]
  ran: boolean
}
function stationsOf(verdicts: readonly Verdict[]): Station[] {
  const stations = new Map<string, Station>()
  for (const { hook, table, id, verdict, reason } of verdicts) {
    const key = JSON.stringify([hook, table, verdict, reason])
    const station = stations.get(key) ?? { text: `${hook} on ${table}`, reason, ids: [], ran: verdict === 'ran' }
    if (!station.ids.includes(id)) station.ids.push(id)
    stations.set(key, station)
  }
  return [...stations.values()].sort((a, b) => Number(b.ran) - Number(a.ran))
}
const stations = computed(() => stationsOf(props.result.verdicts ?? []))
const ran = computed(() => stations.value.filter((station) => station.ran).length)
const lookups = computed(() => props.result.lookups ?? [])
const logs = computed(() => props.result.logs ?? [])
const count = (of: number, word: string) => `${of} ${word}${of === 1 ? '' : 's'}`
const title = computed(() => {
  const parts = [
    `${count(ran.value, 'station')} ran`,
    `${stations.value.length - ran.value} skipped`,
    count(lookups.value.length, 'look-up'),
    count(logs.value.length, 'log line'),
  ]
  return `Saves: ${parts.join(', ')}`
})
const askedText = ({ asked }: Lookup) => JSON.stringify(asked)
</script>

<template>
  <FoldBox v-if="stations.length || lookups.length || logs.length" :title="title">
    <ul class="small">
      <li v-for="(station, at) in stations" :key="at" :class="{ quiet: !station.ran }">
        <span class="mono">{{ station.ran ? 'ran' : 'skipped' }} {{ station.text }}</span
        >, record{{ station.ids.length === 1 ? '' : 's' }} {{ station.ids.join(', ')
        }}<template v-if="station.reason">: {{ station.reason }}</template>
      </li>
      <li v-for="(lookup, at) in lookups" :key="`look-up ${at}`">
        <span class="mono">{{ lookup.hook }}: {{ lookup.call }} {{ lookup.table }} {{ askedText(lookup) }}</span>
        found {{ lookup.found }}
      </li>
      <li v-for="(line, at) in logs" :key="`log ${at}`">
        <span class="mono">{{ line.hook }} logged: {{ line.text }}</span>
      </li>
    </ul>
  </FoldBox>
</template>

<style scoped>
ul {
  list-style: none;
  padding-left: 14px;
}
li {
  overflow-wrap: anywhere;
}
</style>
