<script setup lang="ts">
import OperationsTabs from './OperationsTabs.vue'

/** A page of Operations, below the tabs of all of them. */
</script>

<template>
  <div class="column records-page">
    <OperationsTabs />
    <slot />
  </div>
</template>

<style scoped>
.records-page {
  height: 100%;
}
</style>
