<script setup lang="ts">
import type { BackfillInfo, BackfillLeft, JobInfo } from '@patient-hook/contract'
import { computed, onMounted, onUnmounted, shallowRef } from 'vue'
import CopyJson from '../../../components/CopyJson.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { api } from '../../../lib/api'
import { useAttempt } from '../../../lib/use-attempt'
import { timeWord } from '../../../lib/times'
import { useConfirmation } from '../../../stores/confirmation'
import { useJobs } from '../../../stores/jobs'
import { useProject } from '../../../stores/project'
import FigureTable from './FigureTable.vue'
import { titleOf } from './words'
import MomentText from '../../../components/MomentText.vue'

/** One backfill: its progress, its results, and its actions. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ changed: []; begun: [id: number] }>()
const project = useProject()
const confirmation = useConfirmation()
const backfill = shallowRef<BackfillInfo | null>(null)
const left = shallowRef<readonly BackfillLeft[]>([])
const job = shallowRef<JobInfo | null>(null)
const { error, busy, attempt } = useAttempt()
const jobs = useJobs()
let stopWatching = () => {}
let watched: string | null = null

const load = () =>
  attempt(async () => {
    const now = await api.backfill(props.id)
    backfill.value = now.backfill
    left.value = now.left
    if (now.job === null || now.job === watched) return
    stopWatching()
    watched = now.job
    stopWatching = jobs.follow(now.job, (event) => {
      if (event.event !== 'result') job.value = event.job
      if (event.event !== 'end') return
      watched = null
      job.value = null
      emit('changed')
      void load()
    })
  })
onMounted(load)
onUnmounted(() => stopWatching())

const hold = (state: 'running' | 'paused' | 'cancelled') =>
  attempt(async () => {
    await api.holdBackfill(props.id, state)
    await load()
    emit('changed')
  })
async function undo(): Promise<void> {
  const { done = 0, table = '' } = backfill.value ?? {}
  const question = {
    title: `Undo backfill ${props.id}?`,
    text: `Up to ${done.toLocaleString('en')} ${table} records get the values back that they had before it. Records changed since stay.`,
    action: 'Undo backfill',
  }
  if (!(await confirmation.ask(question))) return
  await attempt(async () => emit('begun', (await api.undoBackfill(props.id, project.user)).backfill.id))
}

const progress = computed(() => {
  const { done, total } = job.value?.progress ?? { done: backfill.value?.done ?? 0, total: backfill.value?.total ?? 0 }
  return { done, total: total ?? 0 }
})
const rate = computed(() => {
  const { rate = 0, secondsLeft = null } = job.value?.progress ?? {}
  if (!job.value || rate === 0) return ''
  return `${Math.round(rate)} a second${secondsLeft === null ? '' : `, about ${Math.ceil(secondsLeft)} s left`}`
})
const canUndo = computed(
  () => backfill.value && backfill.value.state !== 'running' && backfill.value.undoneBy === null && backfill.value.done > 0,
)
</script>

<template>
  <ErrorNote v-if="error" :error="error.report" />
  <article v-if="backfill" class="parts" aria-label="One backfill">
    <h2>{{ titleOf(backfill) }}</h2>
    <p class="quiet small">
      backfill {{ backfill.id }}, started <MomentText :at="backfill.at" /> by {{ backfill.user
      }}{{ backfill.ended ? `, ended ${timeWord(backfill.ended)}` : '' }}
      <CopyJson v-if="backfill.wish" :value="backfill.wish" word="copy the request as JSON" />
    </p>
    <div class="row">
      <strong data-test="backfill-state">{{ backfill.state }}</strong>
      <v-progress-linear
        class="progress"
        :model-value="progress.total === 0 ? 100 : (100 * progress.done) / progress.total"
        height="8"
        color="primary"
        rounded
        aria-label="Progress"
      />
      <span data-test="backfill-progress">{{ progress.done }} of {{ progress.total }}</span>
      <span class="quiet small">{{ rate }}</span>
    </div>
    <div class="row">
      <v-btn v-if="backfill.state === 'running'" size="small" variant="outlined" :disabled="busy" @click="hold('paused')"
        >Pause</v-btn
      >
      <v-btn
        v-if="backfill.state === 'paused' || backfill.state === 'failed'"
        size="small"
        variant="flat"
        color="primary"
        :disabled="busy"
        @click="hold('running')"
        >Resume</v-btn
      >
      <v-btn
        v-if="['running', 'paused', 'failed'].includes(backfill.state)"
        size="small"
        variant="outlined"
        :disabled="busy"
        @click="hold('cancelled')"
        >Stop</v-btn
      >
      <v-btn v-if="canUndo" size="small" variant="outlined" color="error" :disabled="busy" @click="undo">Undo</v-btn>
      <router-link
        v-if="backfill.undoneBy !== null"
        class="link"
        :to="{ name: 'backfills', params: { id: String(backfill.undoneBy) } }"
        >undone by backfill {{ backfill.undoneBy }}</router-link
      >
      <router-link
        v-if="backfill.undoes !== null"
        class="link"
        :to="{ name: 'backfills', params: { id: String(backfill.undoes) } }"
        >of backfill {{ backfill.undoes }}</router-link
      >
    </div>
    <p v-if="canUndo" class="quiet small">
      Undo restores each field to its previous value, except fields that changed since. Sequence numbers are not reused, and
      messages that were sent stay sent.
    </p>
    <ErrorNote v-if="backfill.failure" :error="backfill.failure" />
    <FigureTable :figures="backfill.figures" :left="left" :file="backfill.wish?.rows?.file" />
  </article>
</template>

<style scoped>
.progress {
  max-width: 340px;
}
</style>
