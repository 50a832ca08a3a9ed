<script setup lang="ts">
/** What there is about the live records: the records themselves, what was done to them, what was saved and sent. */
const TABS = [
  { name: 'records', word: 'Records' },
  { name: 'backfills', word: 'Backfills' },
  { name: 'saves', word: 'Saves' },
  { name: 'outbox', word: 'Outbox' },
  { name: 'backups', word: 'Backups' },
] as const
</script>

<template>
  <nav class="tabs row line-b" aria-label="Within Records">
    <router-link v-for="tab in TABS" :key="tab.name" :to="{ name: tab.name }" class="tab">{{ tab.word }}</router-link>
    <slot />
  </nav>
</template>

<style scoped>
.tabs {
  padding: 0 10px;
  gap: 2px;
}
.tab {
  padding: 4px 10px;
  color: inherit;
  text-decoration: none;
  border-bottom: 2px solid transparent;
}
.tab:hover {
  background: rgba(var(--v-theme-primary), 0.07);
}
.tab.router-link-active {
  border-bottom-color: rgb(var(--v-theme-primary));
  font-weight: 620;
}
</style>
