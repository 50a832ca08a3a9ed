<script setup lang="ts">
/** A button that shows an icon alone; its name is its tooltip too. */
defineProps<{ icon: string; label: string }>()
</script>

<template>
  <v-btn icon size="x-small" :aria-label="label">
    <v-icon :icon="icon" size="18" />
    <v-tooltip activator="parent" :text="label" aria-hidden="true" />
  </v-btn>
</template>
