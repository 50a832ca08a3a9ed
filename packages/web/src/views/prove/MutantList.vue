<script setup lang="ts">
import type { InputRow, MutantResult } from '@patient-hook/contract'
import { computed } from 'vue'

/** Small mistakes in the chosen hook: those that no test noticed, each with a batch that shows it; the others counted. */
const props = defineProps<{ results: readonly MutantResult[] }>()
const emit = defineEmits<{
  rehearse: [rows: InputRow[], fixtures: string | null, table: string]
  line: [file: string, line: number]
}>()
const of = (outcome: MutantResult['outcome']) => props.results.filter((each) => each.outcome === outcome)
const missed = computed(() => of('missed'))
const stopped = computed(() => of('stopped'))
const rehearse = ({ batch, fixtures }: MutantResult) =>
  emit('rehearse', (batch ?? []) as InputRow[], fixtures, batch?.[0]?.table ?? '')
</script>

<template>
  <section aria-label="Small mistakes" class="line-t">
    <h3>
      Small mistakes
      <span class="quiet small">
        {{ of('caught').length }} caught by tests, {{ missed.length }} missed, {{ of('equal').length }} that no batch tells apart,
        {{ stopped.length }} stopped
      </span>
    </h3>
    <p v-if="stopped[0]?.by" class="quiet small">Stopped: {{ stopped[0].by }}</p>
    <article v-for="(each, at) in missed" :key="at">
      <p>
        <span class="refused">missed</span> <span class="mono small">{{ each.kind }}</span>
        <button type="button" class="link small" @click="emit('line', each.file, each.line)">line {{ each.line }}</button>
        <span class="mono small">
          <s>{{ each.from }}</s> → {{ each.to || 'nothing' }}</span
        >
      </p>
      <p class="small copper">{{ each.shows }}</p>
      <v-btn v-if="each.batch?.length" size="small" variant="outlined" color="primary" @click="rehearse(each)"
        >Rehearse what shows it</v-btn
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
