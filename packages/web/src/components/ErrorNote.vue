<script setup lang="ts">
import type { ErrorReport } from '@patient-hook/contract'
import { computed } from 'vue'
import { placeOf } from '../lib/text'

const props = defineProps<{ error: ErrorReport }>()
const place = computed(() => placeOf(props.error))
</script>

<template>
  <div class="note" role="alert">
    <div>
      <span class="kind kind-refused">×</span> <strong>{{ error.message }}</strong>
    </div>
    <div class="small quiet">
      <span v-if="place" class="mono">{{ place }}</span>
      <span v-if="place"> — </span>{{ error.todo }}
    </div>
    <ul v-if="error.others?.length" class="small">
      <li v-for="(other, index) in error.others" :key="index">
        {{ other.message }} <span class="mono quiet">{{ placeOf(other) }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.note {
  border-left: 3px solid rgb(var(--v-theme-error));
  background: rgba(var(--v-theme-error), 0.07);
  padding: 7px 12px;
  overflow-wrap: anywhere;
}
.note ul {
  margin: 4px 0 0 18px;
  max-height: 120px;
  overflow: auto;
}
</style>
