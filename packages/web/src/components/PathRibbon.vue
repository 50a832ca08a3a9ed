<script setup lang="ts">
import type { Station, StationCount } from '../lib/path-counts'

/** The save path: the stations of a save in order, with counts. Choosing one filters what is below. */
defineProps<{ counts: readonly StationCount[]; busy?: boolean }>()
const chosen = defineModel<Station | null>({ required: true })

const choose = (station: Station) => (chosen.value = chosen.value === station ? null : station)
</script>

<template>
  <ol class="ribbon line-b" :class="{ busy }" aria-label="Save path">
    <li v-for="each in counts" :key="each.station">
      <button
        type="button"
        :aria-pressed="chosen === each.station"
        :class="{ chosen: chosen === each.station, still: each.ran + each.refused === 0 && !each.words }"
        @click="choose(each.station)"
      >
        <span class="name">{{ each.station }}</span>
        <span class="facts">
          <template v-if="each.words">{{ each.words }}</template>
          <template v-else-if="each.ran + each.skipped === 0">no hooks</template>
          <template v-else>
            <b :class="{ copper: each.ran > 0 }">ran {{ each.ran }}</b>
            <span v-if="each.skipped"> · skipped {{ each.skipped }}</span>
          </template>
          <b v-if="each.refused" class="refused"> · × {{ each.refused }}</b>
        </span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.ribbon {
  display: flex;
  list-style: none;
  padding: 6px 14px;
  gap: 0;
  background: rgb(var(--v-theme-background));
  overflow-x: auto;
}
.ribbon li {
  /* Never narrower than its words: where there is no room, the ribbon scrolls. */
  flex: 1 0 auto;
  display: flex;
  align-items: stretch;
  min-width: 84px;
}
.ribbon li:not(:last-child)::after {
  content: '';
  align-self: center;
  flex: 0 0 12px;
  border-top: 2px solid rgb(var(--v-theme-line));
}
button {
  flex: 1;
  text-align: left;
  padding: 3px 8px;
  border-radius: 4px;
  border-bottom: 2px solid rgb(var(--v-theme-primary));
  color: inherit;
  white-space: nowrap;
}
button:hover {
  background: rgba(var(--v-theme-primary), 0.08);
}
button.chosen {
  background: rgba(var(--v-theme-primary), 0.16);
}
button.still {
  border-bottom-color: rgb(var(--v-theme-line));
}
.name {
  display: block;
  font-weight: 620;
  font-size: 13px;
}
.facts {
  display: block;
  font-size: 12px;
  min-height: 18px;
}
.busy {
  opacity: 0.75;
}
</style>
