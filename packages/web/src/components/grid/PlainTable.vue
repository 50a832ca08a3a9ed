<script setup lang="ts">
/** A table within a page, of a few rows. Its name is for who hears it, where a heading says it already. */
defineProps<{ label: string }>()
</script>

<template>
  <v-table density="compact">
    <caption class="d-sr-only">
      {{
        label
      }}
    </caption>
    <slot />
  </v-table>
</template>
