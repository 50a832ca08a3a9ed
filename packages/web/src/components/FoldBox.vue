<script setup lang="ts">
/** A part that is folded away under its title. */
const { title = '', open = false } = defineProps<{ title?: string; open?: boolean }>()
</script>

<template>
  <v-expansion-panels :model-value="open ? 0 : undefined" flat static>
    <v-expansion-panel>
      <v-expansion-panel-title
        ><slot name="title">{{ title }}</slot></v-expansion-panel-title
      >
      <v-expansion-panel-text><slot /></v-expansion-panel-text>
    </v-expansion-panel>
  </v-expansion-panels>
</template>
