<script setup lang="ts">
import { VERSION_PARTS, type GateResult, type PluginReleases, type VersionPart } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import ErrorNote from '../../components/ErrorNote.vue'
import JobLine from '../../components/JobLine.vue'
import { api } from '../../lib/api'
import { useProject } from '../../stores/project'
import { useReleases } from '../../stores/releases'
import GateList from './GateList.vue'

/** The next release: its version and note, audience, the problems with it. */
const props = defineProps<{ plugin: PluginReleases }>()
const project = useProject()
const releases = useReleases()
const { job } = releases

const PART_WORDS: Record<VersionPart, string> = {
  patch: 'fix',
  minor: 'new feature',
  major: 'breaking change',
}
const part = ref<VersionPart>('patch')
const note = ref('')
const pilots = ref<string[]>([])
const toSome = ref(false)
const reason = ref('')

/** Other plugins whose working copy has more: what was moved between two is released in one. */
const others = computed(() =>
  releases.plugins.filter(({ plugin, working }) => plugin !== props.plugin.plugin && working.files.length > 0),
)
const together = ref<string[]>([])

const gate = computed<GateResult[]>(() =>
  isOurs.value ? (job.results ?? []).flatMap((result) => ('gate' in result ? [result.gate] : [])) : [],
)
/** Names the text that would be released now, with what is released together. */
const textNow = computed(() =>
  JSON.stringify([
    part.value,
    props.plugin.stamps[part.value],
    ...releases.plugins.filter(({ plugin }) => together.value.includes(plugin)).map(({ stamps }) => stamps[part.value]),
  ]),
)
/** The one that the gate was looked at for, since this page is open. */
const textLooked = ref<string | null>(null)
/** What was measured on another text, or of another plugin, is not shown. */
const isOurs = computed(
  () =>
    job.job !== null &&
    (textLooked.value === textNow.value ||
      (together.value.length === 0 && job.job.code !== null && job.job.code === props.plugin.stamps[part.value])),
)
const looked = <T,>(work: () => T): T => {
  textLooked.value = textNow.value
  return work()
}
const against = computed(() => gate.value.filter(({ holds }) => !holds))
const version = computed(() => props.plugin.next[part.value])
const needsReason = computed(() => against.value.length > 0)
const ready = computed(
  () => !job.running && (!toSome.value || pilots.value.length > 0) && (!needsReason.value || reason.value.trim() !== ''),
)
/** Says what the button will do. */
const releaseWord = computed(() => {
  const count = pilots.value.length
  const audience = toSome.value ? `to ${count} pilot ${count === 1 ? 'user' : 'users'}` : 'to everyone'
  return `Release ${props.plugin.plugin} ${version.value} ${audience}`
})
/** The first release has one version, whatever part goes up. */
const hasParts = computed(() => new Set(Object.values(props.plugin.next)).size > 1)
const look = () => looked(() => job.begin(() => api.lookAtGate(props.plugin.plugin, together.value, part.value)))
const release = () =>
  looked(() =>
    job.begin(() =>
      api.release({
        plugin: props.plugin.plugin,
        with: together.value,
        part: part.value,
        note: note.value,
        user: project.user,
        pilots: toSome.value ? pilots.value : null,
        reason: reason.value.trim() === '' ? null : reason.value,
        stamp: together.value.length === 0 ? (props.plugin.stamps[part.value] ?? undefined) : undefined,
      }),
    ),
  )
</script>

<template>
  <form class="form scroll" @submit.prevent="release">
    <v-radio-group v-if="hasParts" v-model="part" label="Version">
      <v-radio v-for="each in [...VERSION_PARTS].reverse()" :key="each" :value="each">
        <template #label>
          <strong>{{ plugin.next[each] }}</strong> <span class="quiet small says">{{ PART_WORDS[each] }}</span>
        </template>
      </v-radio>
    </v-radio-group>
    <p v-else>
      First release: version <strong>{{ version }}</strong>
    </p>
    <v-text-field v-model="note" label="Release note" />
    <v-radio-group v-model="toSome" label="Audience">
      <v-radio :value="false" label="Everyone" />
      <v-radio :value="true" label="Pilot users first" />
    </v-radio-group>
    <div v-if="toSome" class="users">
      <v-checkbox
        v-for="user in project.info?.users ?? []"
        :key="user.name"
        v-model="pilots"
        :value="user.name"
        :label="user.title"
      />
    </div>
    <fieldset v-if="others.length > 0">
      <legend>Release together with</legend>
      <v-checkbox
        v-for="{ plugin: other, next } in others"
        :key="other"
        v-model="together"
        :value="other"
        :label="`${other} ${next[part]}`"
      />
    </fieldset>
    <JobLine :job="isOurs ? job.job : null" :running="isOurs && job.running" label="Release checks" of="parts" @stop="job.stop" />
    <GateList :gate="gate" :running="isOurs && job.running" />
    <ErrorNote v-if="isOurs && job.error && job.error.report.code !== 'release/not-held'" :error="job.error.report" />
    <v-text-field
      v-if="needsReason"
      v-model="reason"
      label="Override reason"
      hint="The reason is stored with the release."
      persistent-hint
    />
    <div class="row actions">
      <v-btn variant="outlined" color="primary" :disabled="job.running" @click="look">Run release checks</v-btn>
      <v-btn variant="flat" color="primary" type="submit" :disabled="!ready">{{ releaseWord }}</v-btn>
    </div>
    <p class="quiet small">Release runs the checks first if they have not run on this version.</p>
  </form>
</template>

<style scoped>
.form {
  height: 100%;
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 10px 16px 24px;
}
.form > * {
  flex: none;
}
/* In sight however long the list of what does not hold is. */
.actions {
  position: sticky;
  bottom: -24px;
  padding: 8px 0;
  background: rgb(var(--v-theme-background));
}
fieldset {
  border: 0;
  display: flex;
  flex-direction: column;
  gap: 2px;
}
legend {
  font-weight: 620;
}
.says {
  margin-left: 8px;
}
.users {
  display: flex;
  flex-direction: column;
  padding-left: 20px;
}
</style>
