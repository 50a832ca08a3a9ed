<script setup lang="ts">
/** Nothing is here: why, what to do next, and in the slot `action` the button for it. */
defineProps<{ title: string }>()
</script>

<template>
  <div class="empty">
    <strong>{{ title }}</strong>
    <p class="quiet"><slot /></p>
    <div v-if="$slots['action']" class="mt-3"><slot name="action" /></div>
  </div>
</template>

<style scoped>
.empty {
  margin: auto;
  padding: 32px;
  max-width: 44ch;
  text-align: center;
}
.empty p {
  margin-top: 6px;
}
</style>
