<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { VIEWS } from '../../router'
import { useProject } from '../../stores/project'
import { ICONS } from '../../theme/icons'
import JobsTray from './JobsTray.vue'

/** The project, the search, and who is working. */
const emit = defineEmits<{ find: [] }>()
const project = useProject()
const users = computed(() => project.info?.users ?? [])
const route = useRoute()
/** Where the page is: its view, then what is chosen in it. */
const crumbs = computed(() => {
  const within = VIEWS.find(({ name }) => name === (route.meta['within'] ?? route.name))
  const chosen = Object.values(route.params)
    .flat()
    .filter((part) => part !== '')
  const own = route.meta['title']
  return [...(within ? [within.word] : []), ...(typeof own === 'string' ? [own] : []), ...chosen]
})
const user = computed(() => users.value.find(({ name }) => name === project.user))
</script>

<template>
  <header class="top line-b">
    <nav class="crumbs fill" aria-label="Breadcrumbs">
      <router-link class="crumb" :to="{ name: 'overview' }"
        ><strong>{{ project.info?.title ?? 'Patient Hook' }}</strong></router-link
      >
      <template v-for="crumb in crumbs" :key="crumb">
        <v-icon :icon="ICONS.next" size="14" />
        <span>{{ crumb }}</span>
      </template>
    </nav>
    <v-btn class="find" variant="outlined" size="small" :prepend-icon="ICONS.search" @click="emit('find')">
      Search or run <kbd>Ctrl+K</kbd>
    </v-btn>
    <JobsTray />
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
      <v-list role="listbox" aria-label="Switch user" :selected="[project.user]" color="primary">
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
.crumbs {
  display: flex;
  align-items: center;
  gap: 4px;
  overflow: hidden;
  white-space: nowrap;
}
.crumb {
  color: inherit;
  text-decoration: none;
}
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
