<script setup lang="ts">
/** A button that shows that its work is going on, and says so to those who do not see it. */
defineProps<{ busy: boolean }>()
</script>

<template>
  <v-btn size="small" :loading="busy">
    <slot />
    <template #loader><v-progress-circular indeterminate size="16" width="2" aria-label="Working" /></template>
  </v-btn>
</template>
