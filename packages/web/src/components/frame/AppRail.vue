<script setup lang="ts">
import { useRoute } from 'vue-router'
import { VIEWS } from '../../router'
import { useProject } from '../../stores/project'
import { ICONS } from '../../theme/icons'
import IconButton from '../IconButton.vue'

/** The views, each with its icon and its word; below them what is of the application as a whole. */
const emit = defineEmits<{ shortcuts: [] }>()
const route = useRoute()
const project = useProject()
const isActive = (name: string): boolean => route.name === name || route.meta['within'] === name
</script>

<template>
  <nav class="rail line-r" aria-label="Views">
    <div class="mark" aria-hidden="true"><img src="/icon.svg" alt="" width="26" height="26" /></div>
    <v-btn
      v-for="view in VIEWS"
      :key="view.name"
      class="view"
      :class="{ active: isActive(view.name) }"
      stacked
      rounded="0"
      :to="{ name: view.name }"
      :active="isActive(view.name)"
      :prepend-icon="ICONS[view.name]"
      :title="`Alt+${view.key}`"
      >{{ view.word }}</v-btn
    >
    <span class="fill" />
    <v-btn
      class="view"
      :class="{ active: isActive('help') }"
      stacked
      rounded="0"
      :to="{ name: 'help' }"
      :active="isActive('help')"
      :prepend-icon="ICONS.help"
      >Help</v-btn
    >
    <IconButton :icon="ICONS.shortcuts" label="Keyboard shortcuts" @click="emit('shortcuts')" />
    <IconButton
      :icon="project.dark ? ICONS.light : ICONS.dark"
      :label="project.dark ? 'Use light theme' : 'Use dark theme'"
      @click="project.dark = !project.dark"
    />
  </nav>
</template>

<style scoped>
.rail {
  width: 84px;
  display: flex;
  flex-direction: column;
  align-items: stretch;
  padding: 8px 0;
  background: rgb(var(--v-theme-surface));
  overflow-y: auto;
}
.rail .v-btn--icon {
  align-self: center;
}
.mark {
  text-align: center;
  padding: 2px 0 6px;
}
.view {
  min-height: 54px;
  padding: 4px 0;
  border-left: 3px solid transparent;
}
.view.active {
  border-left-color: rgb(var(--v-theme-primary));
  color: rgb(var(--v-theme-primary));
  font-weight: 650;
}
</style>
