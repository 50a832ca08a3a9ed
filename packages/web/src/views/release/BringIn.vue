<script setup lang="ts">
import type { ImportPlan } from '@patient-hook/contract'
import { computed, shallowRef } from 'vue'
import ErrorNote from '../../components/ErrorNote.vue'
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

async function choose(event: Event): Promise<void> {
  const [file] = (event.target as HTMLInputElement).files ?? []
  if (!file) return
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
  <section class="in small" aria-label="A zip is taken in">
    <label>
      Zip of a plugin or a project
      <input type="file" accept=".zip" aria-label="Zip" @change="choose" />
    </label>
    <JobLine
      :job="zip ? job.job.value : null"
      :running="zip !== null && job.running.value"
      label="Looked at"
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
          {{ hook }} uses {{ field === null ? `table ${table}` : `${table}.${field}` }}, which is not here
        </li>
        <li v-for="fault in plan.faults" :key="fault">{{ fault }}</li>
      </ul>
      <p v-if="plan.findings.length" class="copper">{{ plan.findings.length }} findings in what comes in</p>
      <p v-if="plan.faults.length === 0">
        {{ plan.tests.passed }} of its tests pass<span v-if="plan.tests.failed" class="refused"
          >, {{ plan.tests.failed }} fail</span
        >
      </p>
      <p v-if="plan.files.length === 0" class="quiet">Nothing of it differs from what is here.</p>
    </template>
    <div class="row">
      <v-btn
        size="small"
        variant="flat"
        color="primary"
        :disabled="!plan || refused || busy || plan.files.length === 0 || job.running.value"
        @click="take"
        >Take it in</v-btn
      >
      <v-btn size="small" @click="emit('cancel')">Cancel</v-btn>
    </div>
  </section>
</template>

<style scoped>
.in {
  display: grid;
  gap: 8px;
  overflow-wrap: anywhere;
}
label {
  display: grid;
  gap: 3px;
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
