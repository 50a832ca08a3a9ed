<script setup lang="ts">
import type { Backup } from '@patient-hook/contract'
import { computed, onMounted, shallowRef, watch } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import JobLine from '../../components/JobLine.vue'
import { api } from '../../lib/api'
import { useAttempt } from '../../lib/use-attempt'
import { useJob } from '../../lib/use-job'
import { timeWord } from '../../lib/text'
import RecordsPage from './RecordsPage.vue'

/** Copies of all records, their history and the project's files, made while the application runs. */
const kept = shallowRef<{ backups: readonly Backup[] } | null>(null)
const { error, attempt } = useAttempt()
const { job, running, error: failed, begin, stop } = useJob('backup')
const load = () => attempt(async () => void (kept.value = await api.backups()))
onMounted(load)
watch(running, (now) => now || load())
const sizeWord = (bytes: number) => (bytes < 1e6 ? `${Math.ceil(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(1)} MB`)
const newest = computed(() => kept.value?.backups[0])
</script>

<template>
  <RecordsPage>
    <section class="fill scroll page parts" tabindex="0" aria-label="Backups">
      <header class="row">
        <h2>Backups</h2>
        <v-btn size="small" variant="flat" color="primary" :disabled="running" @click="begin(() => api.makeBackup())"
          >Back up now</v-btn
        >
      </header>
      <p class="quiet">
        A backup holds all records with their history, the files of the project and its releases, as they stand when it begins;
        saves go on meanwhile.
      </p>
      <JobLine :job="job" :running="running" label="Backup" of="pages" @stop="stop" />
      <ErrorNote v-if="failed ?? error" :error="(failed ?? error)!.report" />
      <EmptyState v-if="kept && kept.backups.length === 0 && !running" title="No backup yet"
        >Back up now, and copy the file to another disk.</EmptyState
      >
      <table v-else-if="kept" class="plain-table" aria-label="Backups in the folder">
        <thead>
          <tr>
            <th scope="col">made</th>
            <th scope="col">size</th>
            <th scope="col">file in the application’s folder</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in kept.backups" :key="each.file">
            <td>{{ timeWord(each.at) }}</td>
            <td>{{ sizeWord(each.bytes) }}</td>
            <td class="mono">{{ each.file }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="newest">
        To begin with it again, stop the application and start it with
        <code>patient-hook serve --restore {{ newest.file }}</code
        >; the records of now are kept beside it.
      </p>
    </section>
  </RecordsPage>
</template>

<style scoped>
.page {
  padding: 10px 16px 20px;
}
code {
  overflow-wrap: anywhere;
}
</style>
