<script setup lang="ts">
import { mistakeName, type InputRow, type MutantResult } from '@patient-hook/contract'
import { computed } from 'vue'
import ErrorNote from '../../components/ErrorNote.vue'
import ReasonForm from '../../components/ReasonForm.vue'
import { usePluginSettings } from '../../stores/plugin-settings'
import { isMissed } from './proofs'

/** Mutations in the chosen hook: those that no test noticed, each with a batch that shows it; the others counted. */
const props = defineProps<{ results: readonly MutantResult[] }>()
const settings = usePluginSettings()
const emit = defineEmits<{
  rehearse: [rows: InputRow[], fixtures: string | null, table: string]
  line: [file: string, line: number]
}>()
const of = (outcome: MutantResult['outcome']) => props.results.filter((each) => each.outcome === outcome)
const missed = computed(() => [...of('missed')].sort((a, b) => Number(isMissed(b)) - Number(isMissed(a))))
const stopped = computed(() => of('stopped'))
const rehearse = ({ batch, fixtures }: MutantResult) =>
  emit('rehearse', (batch ?? []) as InputRow[], fixtures, batch?.[0]?.table ?? '')
</script>

<template>
  <section aria-label="Mutations">
    <h3>
      Mutations
      <span class="quiet small">
        {{ of('caught').length }} caught by tests, {{ missed.length }} survived, {{ of('equal').length }} equivalent,
        {{ stopped.length }} stopped
      </span>
    </h3>
    <ErrorNote v-if="settings.error" :error="settings.error.report" />
    <p v-if="stopped[0]?.by" class="quiet small">Stopped: {{ stopped[0].by }}</p>
    <article v-for="(each, at) in missed" :key="at">
      <p>
        <span :class="isMissed(each) ? 'refused' : 'quiet'">{{ isMissed(each) ? 'survived' : 'excused' }}</span>{{ ' ' }}
        <span class="mono small">{{ each.kind }}</span>
        <v-btn class="link" @click="emit('line', each.file, each.line)">line {{ each.line }}</v-btn>
        <span class="mono small">
          <s>{{ each.from }}</s> → {{ each.to || 'nothing' }}</span
        >
      </p>
      <p v-if="each.reason" class="small">{{ each.reason }}</p>
      <p class="small copper">{{ each.shows }}</p>
      <v-btn v-if="each.batch?.length" variant="outlined" color="primary" @click="rehearse(each)">Open as a rehearsal</v-btn>
      <ReasonForm
        v-if="isMissed(each)"
        word="Excuse"
        label="Reason why no test need catch it"
        :busy="settings.busy"
        @accept="(reason) => settings.except(each.hook, 'misses', mistakeName(each), reason)"
      />
      <v-btn v-else :disabled="settings.busy" @click="settings.except(each.hook, 'misses', mistakeName(each), null)"
        >Remove exception</v-btn
      >
    </article>
  </section>
</template>

<style scoped>
section {
  padding: 6px 0 10px;
}
h3 {
  font-size: 14px;
  font-weight: 500;
}
h3 .small {
  margin-left: 8px;
}
article {
  padding: 6px 0;
}
.link {
  color: rgb(var(--v-theme-primary));
  margin: 0 8px;
}
</style>
