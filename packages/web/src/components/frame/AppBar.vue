<script setup lang="ts">
import { computed } from 'vue'
import { useProject } from '../../stores/project'
import { ICONS } from '../../theme/icons'

/** The project, the search, and who is working. */
const emit = defineEmits<{ find: [] }>()
const project = useProject()
const users = computed(() => project.info?.users ?? [])
const user = computed(() => users.value.find(({ name }) => name === project.user))
</script>

<template>
  <header class="top line-b">
    <strong>{{ project.info?.title ?? 'Patient Hook' }}</strong>
    <span class="fill" />
    <v-btn class="find" variant="outlined" size="small" :prepend-icon="ICONS.search" @click="emit('find')">
      Find anything <kbd>Ctrl+K</kbd>
    </v-btn>
    <v-menu>
      <template #activator="{ props: activator }">
        <v-btn
          v-bind="activator"
          size="small"
          :prepend-icon="ICONS.account"
          :append-icon="ICONS.open"
          :aria-label="`Working as ${user?.title ?? project.user}`"
          >{{ user?.title ?? project.user }}</v-btn
        >
      </template>
      <v-list role="listbox" aria-label="Work as" :selected="[project.user]" color="primary">
        <v-list-item
          v-for="each in users"
          :key="each.name"
          :value="each.name"
          :title="each.title"
          :append-icon="each.name === project.user ? ICONS.chosen : undefined"
          @click="project.user = each.name"
        />
      </v-list>
    </v-menu>
  </header>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: 8px;
  height: 38px;
  padding: 0 14px;
  background: rgb(var(--v-theme-surface));
}
kbd {
  margin-left: 8px;
  opacity: 0.85;
  font-family: inherit;
}
</style>
