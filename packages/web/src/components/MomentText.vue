<script setup lang="ts">
import { computed } from 'vue'
import { localTime } from '../lib/times'

/** A moment in local time, with UTC on hover. */
const props = defineProps<{ at: string }>()
const local = computed(() => (localTime(props.at) ?? props.at).slice(0, 16))
</script>

<template>
  <time :datetime="at" :title="`${at.slice(0, 16).replace('T', ' ')} UTC`">{{ local }}</time>
</template>
