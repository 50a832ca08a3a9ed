<script setup lang="ts">
import { computed } from 'vue'
import { useNotices } from '../../stores/notices'

/** What was just done, at the foot of the window. */
const notices = useNotices()
const first = computed(() => notices.all[0])
function close(): void {
  if (first.value) notices.dismiss(first.value.id)
}
function undo(): void {
  first.value?.undo?.()
  close()
}
</script>

<template>
  <v-snackbar
    :key="first?.id"
    :model-value="first !== undefined"
    :timeout="first?.undo ? 10000 : 4000"
    location="bottom"
    role="status"
    @update:model-value="close"
  >
    {{ first?.text }}
    <template #actions>
      <v-btn v-if="first?.undo" @click="undo">Undo</v-btn>
      <v-btn @click="close">Dismiss</v-btn>
    </template>
  </v-snackbar>
</template>
