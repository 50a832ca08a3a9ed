<script setup lang="ts">
import { BULK_PROPERTIES, BULK_SAYS, type BulkVerdict, type InputRow } from '@patient-hook/contract'
import { computed } from 'vue'
import CopyJson from '../../components/CopyJson.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import ReasonForm from '../../components/ReasonForm.vue'
import { usePluginSettings } from '../../stores/plugin-settings'
import GrowthChart from './GrowthChart.vue'
import { MARK_WORDS, SIGNS, markOf, type ProofLine } from './proofs'

/** The bulk proof of one hook, property by property: what does not hold first, with the smallest batch that breaks it and the growth of its cost. */
const props = defineProps<{ line: ProofLine }>()
const settings = usePluginSettings()
const emit = defineEmits<{ rehearse: [rows: InputRow[], fixtures: string | null, table: string] }>()
const openBatch = ({ batch, fixtures, table }: BulkVerdict) => emit('rehearse', (batch ?? []) as InputRow[], fixtures, table)
const RANKS = { broken: 0, accepted: 1, holds: 2, none: 3 } as const
const all = computed(() =>
  BULK_PROPERTIES.map((property) => ({
    property,
    verdict: props.line.verdicts[property],
    mark: markOf(props.line.verdicts[property]),
  })).sort((a, b) => RANKS[a.mark] - RANKS[b.mark]),
)
const growth = computed(
  () => props.line.verdicts['linear-growth']?.growth ?? props.line.verdicts['constant-queries']?.growth ?? null,
)
const rowText = (row: InputRow | Record<string, unknown>) => JSON.stringify(row)
</script>

<template>
  <section aria-label="Bulk proof">
    <ErrorNote v-if="settings.error" :error="settings.error.report" />
    <GrowthChart v-if="growth && growth.points.length > 1" :growth="growth" />
    <article v-for="{ property, verdict, mark } in all" :key="property" class="line-t">
      <h3>
        <span :class="`mark ${mark}`">{{ SIGNS[mark] }}</span> <span class="mono">{{ property }}</span>
        <span class="quiet small"> {{ BULK_SAYS[property] }}: {{ MARK_WORDS[mark] }}</span>
      </h3>
      <template v-if="verdict">
        <p v-if="verdict.reason" :class="mark === 'broken' ? 'refused' : ''">{{ verdict.reason }}</p>
        <template v-if="verdict.batch?.length">
          <ol class="mono small">
            <li v-for="(row, at) in verdict.batch" :key="at">{{ rowText(row) }}</li>
          </ol>
          <v-btn size="small" variant="outlined" color="primary" @click="openBatch(verdict)">Open as a rehearsal</v-btn>
          <CopyJson class="copy" :value="verdict.batch" />
        </template>
        <ReasonForm
          v-if="mark === 'broken' && line.hook"
          word="Accept"
          :label="`Reason to accept ${property}`"
          :busy="settings.busy"
          @accept="(reason) => settings.except(line.hook!, 'accepts', property, reason)"
        />
        <v-btn
          v-else-if="mark === 'accepted' && line.hook"
          :disabled="settings.busy"
          @click="settings.except(line.hook, 'accepts', property, null)"
          >Remove exception</v-btn
        >
        <p class="quiet small">
          {{ verdict.rows.toLocaleString('en') }} rows saved, using
          {{ verdict.fixtures ? `the fixture set ${verdict.fixtures}` : 'records generated from the schema'
          }}<template v-if="verdict.without.length">; without the accepted exceptions {{ verdict.without.join(', ') }}</template>
        </p>
      </template>
    </article>
  </section>
</template>

<style scoped>
article {
  padding: 6px 0 8px;
}
h3 .small {
  margin-left: 8px;
}
h3 {
  font-size: 14px;
  font-weight: 500;
}
ol {
  margin: 4px 0 6px 22px;
  overflow-wrap: anywhere;
}
.copy {
  margin-left: 8px;
}
.holds {
  color: rgb(var(--v-theme-success));
}
.accepted {
  color: rgb(var(--v-theme-warning));
}
.broken {
  color: rgb(var(--v-theme-error));
}
.mark {
  font-weight: 700;
}
</style>
