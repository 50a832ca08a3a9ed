<script setup lang="ts">
import type { SaveEntry, SaveFigures } from '@patient-hook/contract'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import EmptyState from '../../../components/EmptyState.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { api } from '../../../lib/api'
import { useAttempt } from '../../../lib/use-attempt'
import SaveChart from './SaveChart.vue'
import { budgetWord, figuresWord, keyOf, msWord } from './words'
import PlainTable from '../../../components/grid/PlainTable.vue'

/** Hook performance: saves and their time, time and refusals by hook, saves that came close to a budget. */
const emit = defineEmits<{ hook: [name: string] }>()
const SPANS = { 24: 'the last day', 168: 'the last week' } as const
const span = ref<24 | 168>(24)
const figures = shallowRef<SaveFigures | null>(null)
const { error, attempt } = useAttempt()
const load = () => attempt(async () => void (figures.value = await api.saveFigures(span.value)))
onMounted(load)
watch(span, load)
defineExpose({ load })
const none = computed(() => figures.value?.hours.length === 0)
const most = computed(() => Math.max(1, ...(figures.value?.hooks ?? []).map(({ ms }) => ms)))
const share = (entry: SaveEntry) => `${Math.round(100 * (entry.share ?? 0))} %`
</script>

<template>
  <section class="parts" aria-label="Figures">
    <header class="row">
      <h2>Hook performance</h2>
      <v-select
        v-model.number="span"
        aria-label="Time"
        :items="Object.entries(SPANS).map(([hours, word]) => ({ value: Number(hours), title: word }))"
      />
    </header>
    <ErrorNote v-if="error" :error="error.report" />
    <EmptyState v-if="none" title="No saves in this period">Saves and the work of hooks appear here.</EmptyState>
    <template v-else-if="figures">
      <p>{{ figuresWord(figures) }}</p>
      <SaveChart :figures="figures" :span="span" />
      <div v-if="figures.near.length" class="near" role="status">
        <strong>Close to a budget limit</strong>
        <ul>
          <li v-for="entry in figures.near" :key="entry.id">
            <router-link class="link" :to="{ name: 'saves', params: { id: keyOf(entry) } }">save {{ entry.id }}</router-link>
            spent {{ share(entry) }} of its {{ budgetWord(entry.budget ?? '') }}
          </li>
        </ul>
      </div>
      <PlainTable label="Time by hook" v-if="figures.hooks.length">
        <thead>
          <tr>
            <th scope="col">hook</th>
            <th scope="col" class="wide">time</th>
            <th scope="col" class="number">rows</th>
            <th scope="col" class="number">refused</th>
            <th scope="col" class="number">failed</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="hook in figures.hooks" :key="hook.hook">
            <td>
              <v-btn class="link mono" title="Saves refused by this hook" @click="emit('hook', hook.hook)">
                {{ hook.hook }}
              </v-btn>
            </td>
            <td>
              <span class="bar" :style="{ width: `${(120 * hook.ms) / most}px` }" />
              <span class="small">{{ msWord(hook.ms) }}</span>
            </td>
            <td class="number">{{ hook.ran }}</td>
            <td class="number" :class="{ copper: hook.refused > 0 }">{{ hook.refused }}</td>
            <td class="number" :class="{ refused: hook.failed > 0 }">{{ hook.failed }}</td>
          </tr>
        </tbody>
      </PlainTable>
      <PlainTable label="Refusal reasons" v-if="figures.reasons.length">
        <thead>
          <tr>
            <th scope="col" class="number">saves</th>
            <th scope="col">hook</th>
            <th scope="col">reason</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(reason, at) in figures.reasons" :key="at">
            <td class="number">{{ reason.count }}</td>
            <td class="mono">{{ reason.hook ?? '' }}</td>
            <td class="why">{{ reason.message }}</td>
          </tr>
        </tbody>
      </PlainTable>
    </template>
  </section>
</template>

<style scoped>
.near {
  border-left: 3px solid rgb(var(--v-theme-copper));
  padding: 2px 10px;
}
.near ul {
  list-style: none;
}
.bar {
  margin-right: 6px;
  display: inline-block;
  height: 9px;
  background: rgb(var(--v-theme-primary));
  border-radius: 2px;
}
.wide {
  min-width: 200px;
}
th.number,
td.number {
  text-align: right;
}
.why {
  white-space: normal;
  max-width: 60ch;
}
</style>
