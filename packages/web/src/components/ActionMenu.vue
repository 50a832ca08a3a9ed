<script setup lang="ts">
import { ICONS } from '../theme/icons'

/** What else can be done with a thing, behind three dots. */
defineProps<{
  label: string
  actions: readonly { title: string; icon?: string; danger?: boolean; hint?: string; run: () => void }[]
}>()
</script>

<template>
  <v-menu>
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" icon size="x-small" :aria-label="label" :title="label">
        <v-icon :icon="ICONS.more" size="18" />
      </v-btn>
    </template>
    <v-list role="menu" :aria-label="label">
      <v-list-item
        v-for="{ title, icon, danger, hint, run } in actions"
        :key="title"
        role="menuitem"
        :title="title"
        :subtitle="hint"
        :prepend-icon="icon"
        :base-color="danger ? 'error' : undefined"
        @click="run"
      />
    </v-list>
  </v-menu>
</template>
