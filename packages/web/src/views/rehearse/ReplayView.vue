<script setup lang="ts">
import { MOST_REPLAYED, type Difference, type ReplayedSave, type Value } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import JobLine from '../../components/JobLine.vue'
import { api } from '../../lib/api'
import { groupsOf, hookOf } from '../../lib/run/replay-groups'
import { placeOf, show } from '../../lib/text'
import { useJob } from '../../lib/use-job'
import { useDrafts } from '../../stores/drafts'
import { useProject } from '../../stores/project'
import FoldBox from '../../components/FoldBox.vue'
import PlainTable from '../../components/grid/PlainTable.vue'
import MomentText from '../../components/MomentText.vue'

/** Saves that were kept, run again with the working copy: what would have come out differently, by field and hook. */
const emit = defineEmits<{ open: [save: number]; hook: [name: string] }>()
const drafts = useDrafts()
const project = useProject()
const { results, job, error, running, begin, stop } = useJob('replay')
const last = ref(100)
const isCount = computed(() => Number.isInteger(last.value) && last.value >= 1 && last.value <= MOST_REPLAYED)
const start = () => begin(() => api.replay(last.value, drafts.drafts))

const of = (...outcomes: ReplayedSave['outcome'][]) => (results.value ?? []).filter((each) => outcomes.includes(each.outcome))
const groups = computed(() => groupsOf(results.value ?? []))
const stopped = computed(() => of('refused', 'failed'))
const notRun = computed(() => of('not-run'))
const summary = computed(() => {
  const counts = [
    [of('same').length, 'the same'],
    [of('different').length, 'different'],
    [of('refused').length, 'would be refused'],
    [of('failed').length, 'would fail'],
    [notRun.value.length, 'could not be replayed'],
  ] as const
  return counts
    .filter(([count], at) => count > 0 || at === 0)
    .map(([count, word]) => `${count} ${word}`)
    .join(', ')
})
const MOST = 50
const word = (value: unknown) => (value !== null && typeof value === 'object' ? JSON.stringify(value) : show(value as Value))
/** Who would set it now; of what comes or goes, whose doing that was. */
const setBy = (difference: Difference): string | null => (difference.kind === 'value' ? difference.byNow : hookOf(difference))
const isHook = (name: string | null) => name !== null && project.hook(name) !== undefined
const where = (difference: Difference) => (difference.kind === 'message' ? '' : `${difference.table} ${difference.id}`)
</script>

<template>
  <div class="replay scroll" tabindex="0" aria-label="Replay">
    <form class="row small" @submit.prevent="start">
      <v-text-field label="Saves" v-model.number="last" type="number" min="1" :max="MOST_REPLAYED" />
      <v-btn variant="outlined" color="primary" type="submit" :disabled="running || !isCount">Replay saves</v-btn>
      <span class="quiet">with the code in the editor, on the records as they were before each save. No changes are saved.</span>
    </form>
    <JobLine :job="job" :running="running" label="Saves replayed" of="saves" @stop="stop" />
    <ErrorNote v-if="error" :error="error.report" />
    <EmptyState v-if="!results && !error" title="Not run yet"
      >Differences are grouped by field and hook. Each save opens as a rehearsal.</EmptyState
    >
    <template v-else-if="results">
      <p v-if="results.length === 0 && !running" role="status">No saves yet.</p>
      <p v-else-if="results.length > 0" role="status">
        <strong>{{ summary }}</strong>
      </p>
      <FoldBox v-for="group in groups" :key="`${group.what} ${group.hook}`" :open="groups.length <= 3">
        <template #title>
          <span class="mono">{{ group.what }}</span>
          <template v-if="group.hook">, by {{ group.hook }}</template>
          <span class="quiet"> · {{ group.members.length }}</span>
        </template>
        <PlainTable label="Differences">
          <thead>
            <tr>
              <th scope="col">save</th>
              <th scope="col">record</th>
              <th scope="col">then</th>
              <th scope="col">now</th>
              <th scope="col">by</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="({ save, difference }, index) in group.members.slice(0, MOST)" :key="index">
              <td>
                <v-btn class="link" @click="emit('open', save.save)">save {{ save.save }}</v-btn>
                <span class="quiet small"> <MomentText :at="save.at" /> {{ save.user }}</span>
              </td>
              <td class="mono">{{ where(difference) }}</td>
              <td>{{ word(difference.then) }}</td>
              <td class="copper">{{ word(difference.now) }}</td>
              <td>
                <v-btn v-if="isHook(setBy(difference))" class="link" @click="emit('hook', setBy(difference)!)">
                  {{ setBy(difference) }}
                </v-btn>
                <span v-else class="quiet">{{ setBy(difference) ?? 'no hook' }}</span>
              </td>
            </tr>
          </tbody>
        </PlainTable>
        <p v-if="group.members.length > MOST" class="quiet small">and {{ group.members.length - MOST }} more</p>
      </FoldBox>
      <PlainTable label="Would be refused" v-if="stopped.length">
        <thead>
          <tr>
            <th scope="col">save</th>
            <th scope="col">would</th>
            <th scope="col">why</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="save in stopped.slice(0, 200)" :key="save.save">
            <td>
              <v-btn class="link" @click="emit('open', save.save)">save {{ save.save }}</v-btn>
              <span class="quiet small"> <MomentText :at="save.at" /> {{ save.user }}</span>
            </td>
            <td class="refused">{{ save.outcome === 'refused' ? 'be refused' : 'fail' }}</td>
            <td>
              {{ save.error?.message }} <span class="quiet small">{{ save.error ? placeOf(save.error) : '' }}</span>
            </td>
          </tr>
        </tbody>
      </PlainTable>
      <p v-if="notRun[0]?.error" class="quiet small">
        {{ notRun.length === 1 ? '1 save' : `${notRun.length} saves` }} could not be replayed: {{ notRun[0].error.message }}.
      </p>
    </template>
  </div>
</template>

<style scoped>
.replay {
  height: 100%;
  padding: 6px 14px 16px;
}
td .small {
  margin-left: 8px;
}
td {
  white-space: normal !important;
  max-width: 40ch;
  overflow-wrap: anywhere;
  vertical-align: top;
}
table {
  margin-top: 6px;
}
</style>
