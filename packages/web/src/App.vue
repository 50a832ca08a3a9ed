<script setup lang="ts">
import { mdiWeatherNight, mdiWhiteBalanceSunny } from '@mdi/js'
import { useEventListener } from '@vueuse/core'
import { onMounted, useTemplateRef, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useTheme } from 'vuetify'
import ErrorNote from './components/ErrorNote.vue'
import FinderBox from './components/FinderBox.vue'
import LinkNote from './components/LinkNote.vue'
import SaveConflict from './components/SaveConflict.vue'
import { VIEWS } from './router'
import { useAnnouncements } from './stores/announcements'
import { useProject } from './stores/project'

const project = useProject()
const theme = useTheme()
const route = useRoute()
const router = useRouter()

const finder = useTemplateRef('finder')
const announcements = useAnnouncements()
onMounted(() => {
  void project.load()
  announcements.listen()
})
watchEffect(() => theme.change(project.dark ? 'night' : 'paper'))
useEventListener('keydown', (event) => {
  const view = event.altKey ? VIEWS.find((each) => each.key === event.key) : undefined
  if (!view) return
  event.preventDefault()
  void router.push({ name: view.name })
})
</script>

<template>
  <v-app>
    <a href="#main" class="skip">Skip to the content</a>
    <div class="frame">
      <nav class="rail line-r" aria-label="Views">
        <div class="mark" aria-hidden="true"><img src="/icon.svg" alt="" width="26" height="26" /></div>
        <router-link
          v-for="view in VIEWS"
          :key="view.name"
          :to="{ name: view.name }"
          class="word"
          :class="{ 'router-link-active': route.meta['within'] === view.name }"
          :title="`Alt+${view.key}`"
        >
          {{ view.word }}
        </router-link>
        <span class="fill" />
        <v-btn
          :icon="project.dark ? mdiWhiteBalanceSunny : mdiWeatherNight"
          size="small"
          :aria-label="project.dark ? 'Light' : 'Dark'"
          @click="project.dark = !project.dark"
        />
      </nav>
      <main id="main" class="fill column">
        <header class="top line-b">
          <strong>{{ project.info?.title ?? 'Patient Hook' }}</strong>
          <span class="fill" />
          <button type="button" class="toggle small" title="Ctrl+K" @click="finder?.show()">Find anything</button>
          <label class="quiet small" for="user">Working as</label>
          <select id="user" v-model="project.user">
            <option v-for="user in project.info?.users ?? []" :key="user.name" :value="user.name">{{ user.title }}</option>
          </select>
        </header>
        <FinderBox v-if="project.info" ref="finder" />
        <LinkNote />
        <SaveConflict />
        <ErrorNote v-if="project.error" :error="project.error.report" class="ma-4" />
        <router-view v-else-if="project.info" class="fill" />
      </main>
    </div>
  </v-app>
</template>

<style scoped>
.frame {
  display: flex;
  height: 100vh;
}
.rail {
  width: 84px;
  display: flex;
  flex-direction: column;
  align-items: stretch;
  padding: 8px 0;
  background: rgb(var(--v-theme-surface));
}
.rail .v-btn {
  align-self: center;
}
.mark {
  text-align: center;
  padding: 2px 0 10px;
}
.word {
  padding: 9px 0 9px 12px;
  color: inherit;
  text-decoration: none;
  border-left: 3px solid transparent;
}
.word:hover {
  background: rgba(var(--v-theme-primary), 0.07);
}
.word.router-link-active {
  border-left-color: rgb(var(--v-theme-primary));
  font-weight: 650;
  color: rgb(var(--v-theme-primary));
}
.top {
  display: flex;
  align-items: center;
  gap: 8px;
  height: 38px;
  padding: 0 14px;
  background: rgb(var(--v-theme-surface));
}
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 10;
  background: rgb(var(--v-theme-surface));
  padding: 4px 8px;
}
</style>
