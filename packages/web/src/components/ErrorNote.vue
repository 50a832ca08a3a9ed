<script setup lang="ts">
import type { ErrorReport } from '@patient-hook/contract'
import { useClipboard } from '@vueuse/core'
import { computed } from 'vue'
import { placeOf } from '../lib/text'
import { ICONS } from '../theme/icons'
import IconButton from './IconButton.vue'

/** What went wrong, where, and what to do about it. */
const props = defineProps<{ error: ErrorReport }>()
const place = computed(() => placeOf(props.error))
const { copy, copied } = useClipboard({ legacy: true })
const details = computed(() => JSON.stringify(props.error, null, 2))
</script>

<template>
  <v-alert type="error" :icon="ICONS.refused" :title="error.message" class="note">
    <p>
      <span v-if="place" class="mono">{{ place }}</span>
      <span v-if="place"> — </span>{{ error.todo }}
    </p>
    <ul v-if="error.others?.length">
      <li v-for="(other, index) in error.others" :key="index">
        {{ other.message }} <span class="mono">{{ placeOf(other) }}</span>
      </li>
    </ul>
    <template #append>
      <IconButton :icon="copied ? ICONS.chosen : ICONS.copy" label="Copy details" @click="copy(details)" />
    </template>
  </v-alert>
</template>

<style scoped>
.note {
  flex: none;
  overflow-wrap: anywhere;
}
.note ul {
  margin: 4px 0 0 18px;
  max-height: 120px;
  overflow: auto;
}
</style>
