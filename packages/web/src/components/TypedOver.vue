<script setup lang="ts">
import type { Value } from '@patient-hook/contract'
import { show } from '../lib/text'
import ValueMark from './ValueMark.vue'

/** A typed value that does not stand: a hook or a ripple of the same save put another in its place. */
defineProps<{ typed: Value; by: string }>()
</script>

<template>
  <span class="over" :title="`${show(typed)} was typed, but ${by} replaced it`">
    <ValueMark kind="typed" aria-hidden="true" /><s>{{ show(typed) }}</s>
  </span>
</template>

<style scoped>
.over {
  margin-left: 6px;
  padding-right: 4px;
  border: 1px dashed rgb(var(--v-theme-error));
  border-radius: 3px;
}
s {
  margin-left: 4px;
}
</style>
