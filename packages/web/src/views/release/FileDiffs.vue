<script setup lang="ts">
import type { TextChanges } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import TextDiff from './TextDiff.vue'
import { CHANGE_SIGNS } from './words'

/** Files of two texts of a plugin side by side, one at a time. */
const props = defineProps<{
  files: TextChanges['files']
  before: Readonly<Record<string, string>>
  after: Readonly<Record<string, string>>
}>()
const wanted = ref<string | null>(null)
const chosen = computed(() => props.files.find(({ file }) => file === wanted.value) ?? props.files[0])
const short = (file: string) => file.replace(/^plugins\/[^/]+\//, '')
</script>

<template>
  <div class="column diffs">
    <div class="bar small line-b">
      <span class="quiet">{{ files.length }} {{ files.length === 1 ? 'file' : 'files' }}</span>
      <v-select
        :model-value="chosen?.file"
        aria-label="File"
        @update:model-value="wanted = $event"
        :items="files.map(({ file, change }) => ({ value: file, title: `${CHANGE_SIGNS[change]} ${short(file)}` }))"
      />
    </div>
    <TextDiff
      v-if="chosen"
      class="fill"
      :file="chosen.file"
      :before="before[chosen.file] ?? ''"
      :after="after[chosen.file] ?? ''"
    />
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 4px 16px;
}
</style>
