<script setup lang="ts">
import type { ReleaseInfo } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import { ICONS } from '../../theme/icons'

/** What a release has just done, and what comes next. */
const props = defineProps<{ release: ReleaseInfo }>()
const emit = defineEmits<{ show: [panel: 'versions' | 'hooks'] }>()
const shown = ref(true)
const isPilot = computed(() => props.release.audience !== null)
const next = computed(() =>
  isPilot.value
    ? `It runs on the next saves of ${props.release.audience!.join(', ')}. Compare its performance with the live version, then release it to everyone or end the pilot.`
    : 'It runs on the next save of every user. Roll back here if it does not do what you expect.',
)
</script>

<template>
  <v-alert
    v-model="shown"
    type="success"
    closable
    :icon="ICONS.done"
    :title="`Released ${release.plugin} ${release.version} ${isPilot ? 'to pilot users' : 'to everyone'}`"
    class="outcome"
  >
    <p>{{ next }}</p>
    <v-btn variant="outlined" @click="emit('show', isPilot ? 'versions' : 'hooks')">{{
      isPilot ? 'Manage the pilot' : 'Watch its hooks'
    }}</v-btn>
    <v-btn :to="{ name: 'records' }">Save a record</v-btn>
  </v-alert>
</template>

<style scoped>
.outcome {
  flex: none;
  margin: 8px 16px;
}
</style>
