<script setup lang="ts">
import { useClipboard } from '@vueuse/core'

/** Copies a value as JSON. */
const props = defineProps<{ value: unknown; word?: string }>()
const { copy, copied } = useClipboard({ legacy: true })
</script>

<template>
  <v-btn class="copy" title="Copy as JSON" @click="copy(JSON.stringify(props.value, null, 2))">
    {{ copied ? 'copied' : (word ?? 'copy') }}
  </v-btn>
</template>

<style scoped>
.copy {
  color: rgb(var(--v-theme-primary));
  border: 1px solid rgb(var(--v-theme-line));
  border-radius: 3px;
  padding: 0 5px;
}
</style>
