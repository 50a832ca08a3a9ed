<script setup lang="ts">
import { useDrafts } from '../../stores/drafts'

/** The hook's file first, then what was opened beside it. */
defineProps<{ tabs: readonly string[]; active: string | null; more: readonly string[] }>()
const emit = defineEmits<{ open: [file: string]; close: [file: string]; change: [what: 'lib' | 'tests' | 'remove'] }>()
const drafts = useDrafts()
const short = (file: string) => file.replace(/^plugins\/[^/]+\//, '')

function add(event: Event): void {
  const select = event.target as HTMLSelectElement
  if (select.value === 'lib' || select.value === 'tests' || select.value === 'remove') emit('change', select.value)
  else if (select.value !== '') emit('open', select.value)
  select.value = ''
}
</script>

<template>
  <div class="tabs line-b small" role="group" aria-label="Files">
    <span v-for="(file, index) in tabs" :key="file" class="tab" :class="{ chosen: file === active }">
      <button type="button" :aria-current="file === active ? 'true' : undefined" :title="file" @click="emit('open', file)">
        {{ short(file) }}<span v-if="drafts.hasEdits(file)" class="copper" aria-label="changed"> ●</span>
      </button>
      <button v-if="index > 0" type="button" :aria-label="`Close ${short(file)}`" @click="emit('close', file)">×</button>
    </span>
    <select aria-label="Open another file of the plugin" @change="add">
      <option value="">+ file…</option>
      <option v-for="file in more" :key="file" :value="file">{{ short(file) }}</option>
      <option value="lib">New module…</option>
      <option value="tests">New test…</option>
      <option v-if="active !== null && active !== tabs[0]" value="remove">Remove {{ short(active) }}…</option>
    </select>
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
.tab button {
  padding: 1px 6px;
  color: inherit;
}
select {
  margin: 0 0 2px;
  padding: 0 4px;
}
</style>
