<script setup lang="ts">
/** A checkbox in a cell: small, and only reached by keys where it is given a place among them. */
defineProps<{ label: string; checked: boolean; some?: boolean }>()
const emit = defineEmits<{ toggle: [stretch: boolean] }>()
</script>

<template>
  <input type="checkbox" :checked="checked" :indeterminate="some" :aria-label="label" @click="emit('toggle', $event.shiftKey)" />
</template>
