<script setup lang="ts">
import type { JobInfo } from '@patient-hook/contract'
import { ref } from 'vue'
import { useJobs } from '../../stores/jobs'
import { ICONS } from '../../theme/icons'
import IconButton from '../IconButton.vue'

/** Long tasks with their progress; they go on while views change. */
const jobs = useJobs()
const open = ref(false)
const STATES = { waiting: 'waiting', running: 'running', done: 'done', failed: 'failed', cancelled: 'stopped' } as const
const share = ({ progress }: JobInfo) => (progress.total ? Math.round((100 * progress.done) / progress.total) : 0)
function says(job: JobInfo): string {
  const { done, total, secondsLeft } = job.progress
  if (!jobs.isOpen(job)) return job.error ? job.error.message : STATES[job.state]
  const left = secondsLeft === null || secondsLeft < 1 ? '' : `, about ${Math.ceil(secondsLeft)} s left`
  return total === null ? STATES[job.state] : `${done} of ${total}${left}`
}
</script>

<template>
  <v-menu v-if="jobs.all.length > 0" v-model="open" :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" :prepend-icon="ICONS.jobs" :aria-label="`Jobs: ${jobs.running.length} running`">
        {{ jobs.running.length }}
      </v-btn>
    </template>
    <v-card width="340" class="pa-2" role="region" aria-label="Jobs">
      <div v-for="job in jobs.all" :key="job.id" class="job">
        <div class="row">
          <strong class="fill">{{ job.title }}</strong>
          <IconButton v-if="jobs.isOpen(job)" :icon="ICONS.close" :label="`Stop ${job.title}`" @click="jobs.cancel(job.id)" />
        </div>
        <v-progress-linear
          v-if="jobs.isOpen(job)"
          :model-value="share(job)"
          :indeterminate="job.progress.total === null"
          color="primary"
          :aria-label="job.title"
        />
        <span class="small" :class="job.state === 'failed' ? 'refused' : 'quiet'">{{ says(job) }}</span>
      </div>
    </v-card>
  </v-menu>
</template>

<style scoped>
.job {
  padding: 4px 6px;
}
</style>
