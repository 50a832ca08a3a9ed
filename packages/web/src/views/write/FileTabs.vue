<script setup lang="ts">
import { useDrafts } from '../../stores/drafts'
import IconButton from '../../components/IconButton.vue'
import { ICONS } from '../../theme/icons'

/** The hook's file first, then what was opened beside it. */
defineProps<{ tabs: readonly string[]; active: string | null; more: readonly string[] }>()
const emit = defineEmits<{ open: [file: string]; close: [file: string]; change: [what: 'lib' | 'tests' | 'remove'] }>()
const drafts = useDrafts()
const short = (file: string) => file.replace(/^plugins\/[^/]+\//, '')
</script>

<template>
  <div class="tabs line-b small" role="group" aria-label="Files">
    <span v-for="(file, index) in tabs" :key="file" class="tab" :class="{ chosen: file === active }">
      <v-btn :aria-current="file === active ? 'true' : undefined" :title="file" @click="emit('open', file)">
        {{ short(file) }}<span v-if="drafts.hasEdits(file)" class="copper" aria-label="changed"> ●</span>
      </v-btn>
      <IconButton :icon="ICONS.close" :label="`Close ${short(file)}`" v-if="index > 0" @click="emit('close', file)" />
    </span>
    <v-menu>
      <template #activator="{ props: activator }">
        <v-btn v-bind="activator" :prepend-icon="ICONS.add" aria-label="Open file">File</v-btn>
      </template>
      <v-list role="menu" aria-label="Open file">
        <v-list-item role="menuitem" v-for="file in more" :key="file" :title="short(file)" @click="emit('open', file)" />
        <v-divider v-if="more.length" />
        <v-list-item role="menuitem" title="New module…" @click="emit('change', 'lib')" />
        <v-list-item role="menuitem" title="New test…" @click="emit('change', 'tests')" />
        <v-list-item
          role="menuitem"
          v-if="active !== null && active !== tabs[0]"
          :title="`Remove ${short(active)}…`"
          @click="emit('change', 'remove')"
        />
      </v-list>
    </v-menu>
  </div>
</template>

<style scoped>
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 0 4px;
  padding: 2px 8px 0;
  background: rgb(var(--v-theme-background));
}
.tab {
  display: inline-flex;
  border: 1px solid transparent;
  border-bottom: 2px solid transparent;
}
.tab.chosen {
  border-bottom-color: rgb(var(--v-theme-primary));
  font-weight: 620;
}
</style>
