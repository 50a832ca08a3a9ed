<script setup lang="ts">
import type { PluginReleases } from '@patient-hook/contract'
import { useProject } from '../../stores/project'
import { useReleases } from '../../stores/releases'
import PluginPlace from './PluginPlace.vue'

/** Every plugin with what is live of it and whether its working copy has more. */
defineProps<{ chosen: string }>()
const releases = useReleases()
const project = useProject()
/** One that went from the working copy may still be live. */
const isThere = (plugin: string) => project.info?.plugins.some(({ name }) => name === plugin) ?? false

function stateWord({ plugin, working }: PluginReleases): string {
  const count = working.files.length
  if (!releases.liveOf(plugin)) return 'not released yet'
  return count === 0 ? 'up to date' : `${count} ${count === 1 ? 'changed file' : 'changed files'}`
}
const piloted = ({ releases: own }: PluginReleases) => own.some(({ audience }) => audience !== null && audience.length > 0)
</script>

<template>
  <nav class="list scroll" aria-label="Plugins">
    <router-link
      v-for="plugin in releases.plugins"
      :key="plugin.plugin"
      :to="{ name: 'release', params: { plugin: plugin.plugin } }"
      class="choice"
      :class="{ chosen: plugin.plugin === chosen }"
    >
      <span class="name">{{ plugin.plugin }}</span>
      <span class="small quiet">{{ releases.liveOf(plugin.plugin)?.version ?? '–' }}</span>
      <span class="small state" :class="{ copper: plugin.working.files.length > 0 }">{{ stateWord(plugin) }}</span>
      <span v-if="piloted(plugin)" class="small state copper">in pilot</span>
    </router-link>
    <PluginPlace :chosen="isThere(chosen) ? chosen : null" />
  </nav>
</template>

<style scoped>
.list {
  height: 100%;
  padding: 8px 0;
  background: rgb(var(--v-theme-background));
}
.choice {
  display: grid;
  grid-template-columns: 1fr auto;
  padding: 5px 12px 6px 9px;
}
.state {
  grid-column: 1 / -1;
}
</style>
