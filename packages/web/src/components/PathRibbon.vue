<script setup lang="ts">
import type { Station, StationCount } from '../lib/path-counts'
import { ICONS } from '../theme/icons'

/** The save path: the stations of a save in order, with counts. Choosing one filters what is below. */
defineProps<{ counts: readonly StationCount[]; busy?: boolean }>()
const chosen = defineModel<Station | null>({ required: true })

const choose = (station: Station) => (chosen.value = chosen.value === station ? null : station)
/** What happened there; empty where nothing did. */
function factsOf({ words, ran, skipped, refused }: StationCount): string {
  const facts = [
    words,
    ran > 0 ? `ran ${ran}` : '',
    skipped > 0 ? `skipped ${skipped}` : '',
    refused > 0 ? `refused ${refused}` : '',
  ]
  return facts.filter((fact) => fact !== '').join(', ')
}
</script>

<template>
  <ol class="ribbon line-b" :class="{ busy }" aria-label="Save path">
    <li v-for="(each, index) in counts" :key="each.station">
      <v-icon v-if="index > 0" :icon="ICONS.next" size="14" class="quiet" />
      <v-btn
        :active="chosen === each.station"
        :aria-pressed="chosen === each.station"
        :title="chosen === each.station ? 'Clear filter' : `Filter by ${each.station}`"
        :class="{ still: factsOf(each) === '' }"
        @click="choose(each.station)"
      >
        <b>{{ each.station }}</b>
        <span
          v-if="factsOf(each)"
          class="facts"
          :class="{ copper: each.ran > 0 && each.refused === 0, refused: each.refused > 0 }"
          >{{ factsOf(each) }}</span
        >
      </v-btn>
    </li>
  </ol>
</template>

<style scoped>
.ribbon {
  display: flex;
  flex: none;
  list-style: none;
  padding: 2px 8px;
  background: rgb(var(--v-theme-background));
  overflow-x: auto;
}
.ribbon li {
  /* Never narrower than its words: where there is no room, the ribbon scrolls. */
  flex: none;
  display: flex;
  align-items: center;
}
.still {
  opacity: 0.75;
}
.facts {
  margin-left: 6px;
  font-weight: 400;
}
.busy {
  opacity: 0.75;
}
</style>
