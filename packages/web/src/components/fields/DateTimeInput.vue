<script setup lang="ts">
import type { Value } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import { localTime, timeFromTyped } from '../../lib/times'

/** A moment: shown in local time, kept in UTC; on hover it says both. An offset that is typed is taken as it is. */
const value = defineModel<Value>({ required: true })
const typed = ref<string | null>(null)
const shown = computed(() => typed.value ?? (value.value === null ? '' : (localTime(String(value.value)) ?? String(value.value))))
function type(text: string): void {
  typed.value = text
  value.value = text.trim() === '' ? null : (timeFromTyped(text) ?? text)
}
const title = computed(() => {
  const local = localTime(String(value.value ?? ''))
  return local === null ? '' : `${local} local time, stored as ${String(value.value)}`
})
</script>

<template>
  <v-text-field
    :model-value="shown"
    placeholder="YYYY-MM-DD hh:mm"
    :title="title"
    @update:model-value="type"
    @blur="typed = null"
  />
</template>
