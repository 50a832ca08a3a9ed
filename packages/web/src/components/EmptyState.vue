<script setup lang="ts">
defineProps<{ title: string }>()
</script>

<template>
  <div class="empty">
    <strong>{{ title }}</strong>
    <p class="quiet"><slot /></p>
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
