<script setup lang="ts">
import RecordsTabs from './RecordsTabs.vue'

/** A page within Records, below the tabs of its sisters. */
</script>

<template>
  <div class="column records-page">
    <RecordsTabs />
    <slot />
  </div>
</template>

<style scoped>
.records-page {
  height: 100%;
}
</style>
