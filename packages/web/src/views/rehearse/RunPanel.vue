<script setup lang="ts">
import type { Place, Rehearsal } from '@patient-hook/contract'
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import EmptyState from '../../components/EmptyState.vue'
import PanelSwitch from '../../components/PanelSwitch.vue'
import { download } from '../../lib/download'
import type { TriedGround } from '../../lib/api'
import type { Station } from '../../lib/path-counts'
import { useHooks } from '../../stores/hooks'
import CompareView from './CompareView.vue'
import ReplayView from './ReplayView.vue'
import RunView from './RunView.vue'
import StepView from './StepView.vue'

/** What happened, in four ways: as a path, step by step, beside another run, and with the saves that were kept before. */
const props = defineProps<{
  run: Rehearsal | null
  station: Station | null
  /** Where it took place. */
  ground: TriedGround
  /** What the run is of, in words. */
  about: string
  /** Of the file that it is exported to, without ending. */
  name: string
}>()
const emit = defineEmits<{ open: [save: number] }>()
const router = useRouter()
const hooks = useHooks()

const PANELS = { path: 'Path', steps: 'Steps', compare: 'Compare', replay: 'Replay' } as const
const panel = ref<keyof typeof PANELS>('path')
const held = shallowRef<{ run: Rehearsal; word: string } | null>(null)
function hold(): void {
  held.value = { run: props.run!, word: `${props.about}, at ${new Date().toLocaleTimeString('en-GB')}` }
}
function openSave(save: number): void {
  panel.value = 'path'
  emit('open', save)
}
const outcomeWord = computed(() => {
  if (!props.run) return ''
  const { error: failed, refusals } = props.run
  if (!failed) return 'This save would succeed. No changes were stored.'
  return refusals.length > 0
    ? `This save would be refused: ${refusals.length === 1 ? '1 refusal' : `${refusals.length} refusals`}.`
    : 'This save would fail.'
})

/** The run in the shape of the command line's --json. */
function exportRun(): void {
  const { rows: all, verdicts, lookups, refusals, sent, logs, spent, error: failed } = props.run!
  const text = JSON.stringify(
    { rows: all, verdicts, lookups, refusals, sent, logs, spent, ...(failed ? { error: failed } : {}) },
    null,
    2,
  )
  download(`${props.name}.json`, text, 'application/json')
}
function goTo(place: Place): void {
  const owner = hooks.all.find((each) => each.file === place.file)
  if (owner) void router.push({ name: 'write', params: { hook: owner.name } })
}
const openHook = (name: string) => router.push({ name: 'write', params: { hook: name } })
</script>

<template>
  <div class="bar line-b small">
    <PanelSwitch v-model="panel" :panels="PANELS" label="The run" />
    <span v-if="panel !== 'replay'" role="status" :class="{ refused: run?.error }">{{ outcomeWord }}</span>
    <span class="fill" />
    <template v-if="run && panel !== 'replay'">
      <span class="quiet">{{ run.spent['ms'] }} ms</span>
      <v-btn size="small" @click="exportRun">Export JSON</v-btn>
    </template>
  </div>
  <div class="below fill">
    <div class="fill">
      <ReplayView v-if="panel === 'replay'" @open="openSave" @hook="openHook" />
      <EmptyState v-else-if="!run" title="No run yet">Choose a record to rehearse a save.</EmptyState>
      <RunView v-else-if="panel === 'path'" :run="run" :station="station" :ground="ground" @place="goTo" @hook="openHook" />
      <StepView v-else-if="panel === 'steps'" :run="run" :ground="ground" @place="goTo" />
      <CompareView v-else :held="held" :run="run" @hold="hold" />
    </div>
    <slot />
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 10px;
  padding: 3px 12px;
  background: rgb(var(--v-theme-background));
}
.below {
  display: flex;
  min-height: 0;
}
</style>
