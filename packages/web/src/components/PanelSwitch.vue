<script setup lang="ts" generic="K extends string">
/** Chooses one of a few parts that is shown. */
defineProps<{ panels: Readonly<Record<K, string>>; label: string }>()
const panel = defineModel<K>({ required: true })
</script>

<template>
  <v-tabs v-model="panel" :aria-label="label" mandatory>
    <v-tab v-for="[each, word] in Object.entries(panels) as [K, string][]" :key="each" :value="each">{{ word }}</v-tab>
  </v-tabs>
</template>
