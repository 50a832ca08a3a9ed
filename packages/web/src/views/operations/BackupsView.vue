<script setup lang="ts">
import type { Backup } from '@patient-hook/contract'
import { computed, onMounted, shallowRef, watch } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import JobLine from '../../components/JobLine.vue'
import { api } from '../../lib/api'
import { useAttempt } from '../../lib/use-attempt'
import { useJob } from '../../lib/use-job'
import OperationsPage from './OperationsPage.vue'
import PlainTable from '../../components/grid/PlainTable.vue'
import MomentText from '../../components/MomentText.vue'

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
  <OperationsPage>
    <section class="fill scroll page parts" tabindex="0" aria-label="Backups">
      <header class="row">
        <h2>Backups</h2>
        <v-btn variant="flat" color="primary" :disabled="running" @click="begin(() => api.makeBackup())">Back up now</v-btn>
      </header>
      <p class="quiet">
        A backup holds all records with their history, the project files and the releases. Saves continue while it runs.
      </p>
      <JobLine :job="job" :running="running" label="Backup" of="pages" @stop="stop" />
      <ErrorNote v-if="failed ?? error" :error="(failed ?? error)!.report" />
      <EmptyState v-if="kept && kept.backups.length === 0 && !running" title="No backup yet"
        >Run a backup, then copy the file to another disk.</EmptyState
      >
      <PlainTable label="Backups in the folder" v-else-if="kept">
        <thead>
          <tr>
            <th scope="col">created</th>
            <th scope="col">size</th>
            <th scope="col">file in the data folder</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in kept.backups" :key="each.file">
            <td><MomentText :at="each.at" /></td>
            <td>{{ sizeWord(each.bytes) }}</td>
            <td class="mono">{{ each.file }}</td>
          </tr>
        </tbody>
      </PlainTable>
      <p v-if="newest">
        To restore it, stop the application and start it with
        <code>patient-hook serve --restore {{ newest.file }}</code
        >. The current records are saved next to it.
      </p>
    </section>
  </OperationsPage>
</template>

<style scoped>
.page {
  padding: 10px 16px 20px;
}
code {
  overflow-wrap: anywhere;
}
</style>
