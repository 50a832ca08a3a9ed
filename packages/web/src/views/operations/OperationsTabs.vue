<script setup lang="ts">
/** What runs on the live records, and who comes in. */
const TABS = [
  { name: 'saves', word: 'Saves' },
  { name: 'backfills', word: 'Backfills' },
  { name: 'outbox', word: 'Outbox' },
  { name: 'backups', word: 'Backups' },
  { name: 'keys', word: 'API keys' },
] as const
</script>

<template>
  <nav class="tabs row line-b" aria-label="Sections of Operations">
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
