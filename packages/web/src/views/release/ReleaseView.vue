<script setup lang="ts">
import { Pane } from 'splitpanes'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import EmptyState from '../../components/EmptyState.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import PanelSwitch from '../../components/PanelSwitch.vue'
import SplitBox from '../../components/SplitBox.vue'
import { useProject } from '../../stores/project'
import { useReleases } from '../../stores/releases'
import HookTable from './HookTable.vue'
import PluginList from './PluginList.vue'
import PluginPlace from './PluginPlace.vue'
import ReleaseOutcome from './ReleaseOutcome.vue'
import ReleaseLog from './ReleaseLog.vue'
import VersionList from './VersionList.vue'
import WorkingCopy from './WorkingCopy.vue'
import MomentText from '../../components/MomentText.vue'

/** From the working copy to live: the differences, the problems with it, audience, and the way back. */
const releases = useReleases()
const project = useProject()
const route = useRoute()
const PANELS = { working: 'Working copy', versions: 'Versions', hooks: 'Hooks', log: 'Activity' } as const
const panel = ref<keyof typeof PANELS>('working')

onMounted(releases.load)
const chosen = computed(() => releases.plugins.find(({ plugin }) => plugin === route.params['plugin']) ?? releases.plugins[0])
const live = computed(() => (chosen.value ? releases.liveOf(chosen.value.plugin) : undefined))
const pilots = computed(() => chosen.value?.releases.filter(({ audience }) => audience !== null && audience.length > 0) ?? [])
/** Something to go back to. */
const before = computed(() => {
  const own = chosen.value?.releases.filter(({ everyoneAt }) => everyoneAt !== null) ?? []
  const text = own.find(({ version }) => version === live.value?.textOf) ?? live.value
  return own.find(({ id, textOf }) => textOf === null && text !== undefined && id < text.id)
})
/** What the last release of this plugin came to, as long as the page lives. */
const released = computed(() =>
  (releases.job.results ?? [])
    .flatMap((result) => ('released' in result ? [result.released] : []))
    // Once something else happened to the plugin, this is no news.
    .find(({ id }) => id === chosen.value?.releases[0]?.id),
)
// A user who changes the working copy: the differences is another.
watch(() => project.version, releases.load)
// What came of a release is shown as soon as it is there.
watch(
  () => releases.job.job?.state,
  (state) => {
    if (state && state !== 'running') void releases.load()
  },
)
</script>

<template>
  <div class="column view">
    <ErrorNote v-if="releases.error" :error="releases.error.report" />
    <div v-if="releases.overview && !chosen" class="column fill">
      <PluginPlace :chosen="null" />
      <EmptyState title="No plugin yet">Create a plugin, then write its hooks.</EmptyState>
    </div>
    <SplitBox v-else-if="chosen" name="release" class="fill">
      <Pane :size="19" :min-size="12"><PluginList :chosen="chosen.plugin" /></Pane>
      <Pane :size="81">
        <div class="column view">
          <header class="head line-b">
            <h2>{{ chosen.plugin }}</h2>
            <span v-if="live" data-test="live">
              <strong>{{ live.version }}</strong> is live since <MomentText :at="live.everyoneAt ?? live.at" />
              <span v-if="live.textOf" class="quiet">(the text of {{ live.textOf }})</span>
            </span>
            <span v-else class="quiet">not released</span>
            <span v-for="pilot in pilots" :key="pilot.id" class="copper">
              {{ pilot.version }} is in pilot with {{ pilot.audience!.join(', ') }}
            </span>
            <span class="fill" />
            <v-btn
              v-if="before"
              size="small"
              variant="outlined"
              color="primary"
              :disabled="releases.busy"
              @click="releases.stepBack(chosen.plugin)"
              >Roll back to {{ before.version }}</v-btn
            >
          </header>
          <ReleaseOutcome
            v-if="released"
            :key="released.id"
            :release="released"
            @show="(which: 'versions' | 'hooks') => (panel = which)"
          />
          <div class="bar line-b"><PanelSwitch v-model="panel" :panels="PANELS" label="Shown" /></div>
          <WorkingCopy v-if="panel === 'working'" :key="chosen.plugin" :plugin="chosen" />
          <VersionList v-else-if="panel === 'versions'" :key="chosen.plugin" :plugin="chosen" />
          <HookTable v-else-if="panel === 'hooks'" :key="chosen.plugin" :plugin="chosen.plugin" />
          <ReleaseLog v-else :entries="releases.overview!.log.filter((entry) => entry.plugin === chosen!.plugin)" />
        </div>
      </Pane>
    </SplitBox>
  </div>
</template>

<style scoped>
.view {
  height: 100%;
}
.head {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 14px;
  padding: 6px 16px;
}
.bar {
  padding: 5px 16px;
}
h2 {
  font-size: 17px;
}
</style>
