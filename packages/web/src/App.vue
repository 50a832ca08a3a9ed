<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { onMounted, useTemplateRef, watchEffect } from 'vue'
import { useRouter } from 'vue-router'
import { useTheme } from 'vuetify'
import AppBar from './components/frame/AppBar.vue'
import AppRail from './components/frame/AppRail.vue'
import ConfirmDialog from './components/frame/ConfirmDialog.vue'
import GuidedTour from './components/frame/GuidedTour.vue'
import NoticeBar from './components/frame/NoticeBar.vue'
import ShortcutList from './components/frame/ShortcutList.vue'
import ErrorNote from './components/ErrorNote.vue'
import FinderBox from './components/FinderBox.vue'
import LinkNote from './components/LinkNote.vue'
import SaveConflict from './components/SaveConflict.vue'
import { VIEWS } from './router'
import { useAnnouncements } from './stores/announcements'
import { useProject } from './stores/project'

const project = useProject()
const theme = useTheme()
const router = useRouter()

const finder = useTemplateRef('finder')
const shortcuts = useTemplateRef('shortcuts')
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
      <AppRail @shortcuts="shortcuts?.show()" />
      <main id="main" class="fill column">
        <AppBar @find="finder?.show()" />
        <FinderBox v-if="project.info" ref="finder" />
        <ShortcutList ref="shortcuts" />
        <LinkNote />
        <SaveConflict />
        <NoticeBar />
        <ConfirmDialog />
        <GuidedTour v-if="project.info" />
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
