<script setup lang="ts">
import type { ImportPlan } from '@patient-hook/contract'
import { computed, shallowRef } from 'vue'
import ErrorNote from '../../components/ErrorNote.vue'
import FilePick from '../../components/FilePick.vue'
import JobLine from '../../components/JobLine.vue'
import { api } from '../../lib/api'
import { base64Of } from '../../lib/download'
import { useAttempt } from '../../lib/use-attempt'
import { useJob } from '../../lib/use-job'
import { useProject } from '../../stores/project'
import { useReleases } from '../../stores/releases'
import { CHANGE_SIGNS } from './words'

/** A zip of plugins: what taking it in would do, before anything is kept. */
const emit = defineEmits<{ done: [plugin: string | null]; cancel: [] }>()
const project = useProject()
const releases = useReleases()
const job = useJob('import')
const zip = shallowRef<{ name: string; zip: string } | null>(null)
const { error, busy, attempt } = useAttempt()
const plan = computed<ImportPlan | null>(() => (zip.value ? (job.results.value?.[0] ?? null) : null))
const refused = computed(() => (plan.value?.faults.length ?? 0) + (plan.value?.needs.length ?? 0) > 0)

async function choose(file: File): Promise<void> {
  const chosen = { name: file.name, zip: await base64Of(file) }
  zip.value = chosen
  error.value = null
  await job.begin(() => api.planImport(chosen))
}
const take = () =>
  attempt(async () => {
    if (!zip.value) return
    const { change, plan: taken } = await api.importZip(zip.value)
    if (change) await project.take(change)
    await releases.load()
    emit('done', taken.plugins[0]?.plugin ?? null)
  })
</script>

<template>
  <section class="in small" aria-label="Import from zip">
    <p>A zip of a plugin or of a whole project.</p>
    <FilePick word="Choose a zip…" label="Zip" accept=".zip" @file="choose" />
    <JobLine
      :job="zip ? job.job.value : null"
      :running="zip !== null && job.running.value"
      label="Checked"
      of="parts"
      @stop="job.stop"
    />
    <ErrorNote v-if="error ?? job.error.value" :error="(error ?? job.error.value)!.report" />
    <template v-if="plan">
      <p v-for="{ plugin, version, from } in plan.plugins" :key="plugin">
        <strong>{{ plugin }} {{ version }}</strong> {{ from === null ? 'is new' : `in place of ${from}` }}
      </p>
      <ul class="files">
        <li v-for="{ file, change } in plan.files" :key="file">
          <span aria-hidden="true">{{ CHANGE_SIGNS[change] }}</span> {{ file }} <span class="quiet">{{ change }}</span>
        </li>
        <li v-for="{ file, why } in plan.left" :key="file" class="quiet">{{ file }}: {{ why }}</li>
      </ul>
      <ul v-if="refused" class="refused" role="alert">
        <li v-for="{ hook, table, field } in plan.needs" :key="`${hook} ${table} ${field}`">
          {{ hook }} uses {{ field === null ? `table ${table}` : `${table}.${field}` }}, which does not exist here
        </li>
        <li v-for="fault in plan.faults" :key="fault">{{ fault }}</li>
      </ul>
      <p v-if="plan.findings.length" class="copper">{{ plan.findings.length }} findings in the imported files</p>
      <p v-if="plan.faults.length === 0">
        {{ plan.tests.passed }} of its tests pass<span v-if="plan.tests.failed" class="refused"
          >, {{ plan.tests.failed }} fail</span
        >
      </p>
      <p v-if="plan.files.length === 0" class="quiet">The zip contains no changes.</p>
    </template>
    <div class="row">
      <v-btn
        variant="flat"
        color="primary"
        :disabled="!plan || refused || busy || plan.files.length === 0 || job.running.value"
        @click="take"
        >Import files</v-btn
      >
      <v-btn @click="emit('cancel')">Cancel</v-btn>
    </div>
  </section>
</template>

<style scoped>
.in {
  display: grid;
  gap: 8px;
  overflow-wrap: anywhere;
}
ul {
  padding-left: 16px;
}
.files {
  list-style: none;
  padding-left: 0;
  max-height: 220px;
  overflow: auto;
}
</style>
