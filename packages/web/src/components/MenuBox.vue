<script setup lang="ts">
import { ref } from 'vue'
import { ICONS } from '../theme/icons'

/** A small panel below its name in a bar; Escape and a click elsewhere put it away. */
defineProps<{ title: string }>()
const open = ref(false)
defineExpose({ close: () => (open.value = false) })
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" :append-icon="ICONS.open">{{ title }}</v-btn>
    </template>
    <v-card class="pa-3" width="290"><slot /></v-card>
  </v-menu>
</template>
