<script setup lang="ts">
import type { SaveOutcome } from '@patient-hook/contract'
import { computed } from 'vue'
import TypedOver from '../../components/TypedOver.vue'
import { refusedAt, type Station } from '../../lib/path-counts'
import { show } from '../../lib/text'
import { useTitles } from '../../lib/use-titles'
import { useProject } from '../../stores/project'

/** What happened at one station of the latest save or preview. */
const props = defineProps<{ station: Station; outcome: SaveOutcome }>()
const project = useProject()
const { titleOfRow, titlesAmong } = useTitles()
const titleAmong = computed(() => titlesAmong(props.outcome.rows))
const verdicts = computed(() => props.outcome.verdicts.filter((each) => project.hook(each.hook)?.moment === props.station))
const refusals = computed(() => props.outcome.refusals.filter((each) => refusedAt(each, project.hooks) === props.station))
const rows = computed(() =>
  props.outcome.rows.filter((row) =>
    props.station === 'ripples' ? row.depth > 0 : ['typed', 'write'].includes(props.station) && row.depth === 0,
  ),
)
</script>

<template>
  <div class="detail line-b small">
    <div v-for="(each, index) in verdicts" :key="index">
      <b :class="each.verdict === 'ran' ? 'copper' : 'quiet'">{{ each.verdict }}</b> {{ each.hook }}
      <span class="quiet">{{ titleAmong(each.table, each.id) }} {{ each.reason }}</span>
    </div>
    <div v-for="(each, index) in refusals" :key="`r${index}`" class="refused">× {{ each.message }}</div>
    <template v-for="row in rows" :key="`${row.table}${row.id}${row.depth}`">
      <div v-for="change in row.changes.filter((each) => station !== 'typed' || each.kind === 'typed')" :key="change.field">
        <router-link v-if="row.id > 0" class="link" :to="{ name: 'records', params: { table: row.table, id: String(row.id) } }">{{
          titleOfRow(row)
        }}</router-link>
        <span class="mono">{{ change.field }}</span> <s class="quiet">{{ show(change.from) }}</s> → {{ show(change.to) }}
        <span class="quiet">{{ change.by }}</span>
        <TypedOver v-if="change.overwrites !== undefined" :typed="change.overwrites" :by="change.by" />
      </div>
    </template>
    <div v-if="verdicts.length + refusals.length + rows.length === 0" class="quiet">Nothing to show for this station.</div>
  </div>
</template>

<style scoped>
.detail {
  padding: 6px 14px;
  max-height: 140px;
  overflow: auto;
  background: rgb(var(--v-theme-surface));
}
</style>
