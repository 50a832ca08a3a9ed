<script setup lang="ts">
/** A list at the left, and what is chosen of it at the right. */
defineProps<{
  /** Of what is chosen. */
  label: string
  /** Of the list, in pixels. */
  width: number
}>()
</script>

<template>
  <div class="row fill beside">
    <div class="column line-r" :style="{ width: `${width}px` }"><slot name="list" /></div>
    <section class="fill scroll page" tabindex="0" :aria-label="label"><slot /></section>
  </div>
</template>

<style scoped>
.beside {
  align-items: stretch;
  gap: 0;
}
.page {
  padding: 8px 16px 20px;
}
</style>
