<script setup lang="ts">
import { computed } from 'vue'
import type { RouteLocationRaw } from 'vue-router'
import { ICONS } from '../../theme/icons'

/** The way to a first released hook. */
const props = defineProps<{ steps: readonly { title: string; hint: string; done: boolean; to: RouteLocationRaw }[] }>()
const next = computed(() => props.steps.findIndex(({ done }) => !done))
</script>

<template>
  <v-card title="First steps" variant="flat" border class="mb-4">
    <v-list aria-label="First steps">
      <v-list-item
        v-for="({ title, hint, done, to }, index) in steps"
        :key="title"
        :title="`${index + 1}. ${title}`"
        :subtitle="hint"
      >
        <template #prepend>
          <v-icon
            :icon="done ? ICONS.done : ICONS.todo"
            :color="done ? 'success' : undefined"
            :aria-label="done ? 'done' : 'to do'"
          />
        </template>
        <template #append>
          <v-btn
            v-if="!done"
            :variant="index === next ? 'flat' : 'outlined'"
            :color="index === next ? 'primary' : undefined"
            :to="to"
            >{{ title }}</v-btn
          >
        </template>
      </v-list-item>
    </v-list>
  </v-card>
</template>
