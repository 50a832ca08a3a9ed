<script setup lang="ts">
import type { Value } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import { ICONS } from '../../theme/icons'

/** A date, typed as YYYY-MM-DD or picked. */
const value = defineModel<Value>({ required: true })
const open = ref(false)
const isDate = (text: unknown): text is string => typeof text === 'string' && /^\d{4}-\d\d-\d\d$/.test(text)
const two = (part: number) => String(part).padStart(2, '0')
const picked = computed({
  get: () => (isDate(value.value) ? new Date(`${value.value}T00:00:00`) : null),
  set: (date: Date | null) => {
    value.value = date && `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`
    open.value = false
  },
})
const text = computed({
  get: () => (value.value === null ? '' : String(value.value)),
  set: (typed: string) => (value.value = typed === '' ? null : typed),
})
</script>

<template>
  <v-text-field v-model="text" placeholder="YYYY-MM-DD" inputmode="numeric">
    <template #append-inner>
      <v-menu v-model="open" :close-on-content-click="false">
        <template #activator="{ props: activator }">
          <v-icon
            v-bind="activator"
            :icon="ICONS.calendar"
            size="18"
            role="button"
            aria-label="Pick a date"
            title="Pick a date"
          />
        </template>
        <v-date-picker v-model="picked" hide-header show-adjacent-months />
      </v-menu>
    </template>
  </v-text-field>
</template>
