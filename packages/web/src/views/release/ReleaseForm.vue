<script setup lang="ts">
import { VERSION_PARTS, type GateResult, type PluginReleases, type VersionPart } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import ErrorNote from '../../components/ErrorNote.vue'
import JobLine from '../../components/JobLine.vue'
import { api } from '../../lib/api'
import { useProject } from '../../stores/project'
import { useReleases } from '../../stores/releases'
import GateList from './GateList.vue'

/** The next release: its version and note, who gets it, what stands against it. */
const props = defineProps<{ plugin: PluginReleases }>()
const project = useProject()
const releases = useReleases()
const { job } = releases

const PART_WORDS: Record<VersionPart, string> = {
  patch: 'a mend',
  minor: 'something new',
  major: 'something works in another way than before',
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
    <fieldset>
      <legend>Version</legend>
      <label v-for="each in [...VERSION_PARTS].reverse()" :key="each">
        <input v-model="part" type="radio" name="part" :value="each" /> <strong>{{ plugin.next[each] }}</strong>
        <span class="quiet small says">{{ PART_WORDS[each] }}</span>
      </label>
    </fieldset>
    <v-text-field v-model="note" label="What is new" />
    <fieldset>
      <legend>Who gets it</legend>
      <label><input v-model="toSome" type="radio" name="who" :value="false" /> everyone</label>
      <label><input v-model="toSome" type="radio" name="who" :value="true" /> some users first</label>
      <div v-if="toSome" class="users">
        <label v-for="user in project.info?.users ?? []" :key="user.name">
          <input v-model="pilots" type="checkbox" :value="user.name" /> {{ user.title }}
        </label>
      </div>
    </fieldset>
    <fieldset v-if="others.length > 0">
      <legend>Together with it</legend>
      <label v-for="{ plugin: other, next } in others" :key="other">
        <input v-model="together" type="checkbox" :value="other" /> {{ other }} {{ next[part] }}
      </label>
    </fieldset>
    <JobLine :job="isOurs ? job.job : null" :running="isOurs && job.running" label="The gate" of="parts" @stop="job.stop" />
    <GateList :gate="gate" :running="isOurs && job.running" />
    <ErrorNote v-if="isOurs && job.error && job.error.report.code !== 'release/not-held'" :error="job.error.report" />
    <v-text-field
      v-if="needsReason"
      v-model="reason"
      label="Why it is released although not all holds"
      hint="The reason is kept with the release."
      persistent-hint
    />
    <div class="row actions">
      <v-btn size="small" variant="outlined" color="primary" :disabled="job.running" @click="look">Look at the gate</v-btn>
      <v-btn size="small" variant="flat" color="primary" type="submit" :disabled="!ready">Release {{ version }}</v-btn>
    </div>
    <p class="quiet small">The gate is looked at on exactly this text before it is released, if it was not yet.</p>
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
