<script setup lang="ts">
import { useTemplateRef } from 'vue'

/** A button that asks for a file. */
defineProps<{ word: string; label: string; accept: string; icon?: string }>()
const emit = defineEmits<{ file: [file: File] }>()
const field = useTemplateRef('field')
function take(files: File | File[] | null): void {
  const file = Array.isArray(files) ? files[0] : files
  if (file) emit('file', file)
}
defineExpose({ pick: () => field.value?.click() })
</script>

<template>
  <v-btn variant="outlined" :prepend-icon="icon" @click="field?.click()">{{ word }}</v-btn>
  <v-file-input ref="field" class="d-none" :model-value="null" :accept="accept" :aria-label="label" @update:model-value="take" />
</template>
