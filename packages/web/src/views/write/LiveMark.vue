<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed } from 'vue'
import { useProject } from '../../stores/project'
import { useReleases } from '../../stores/releases'

/** That a file that was kept does not run on saves yet, and the way to its release. */
const props = defineProps<{ file: string | null; plugin: string }>()
const project = useProject()
const releases = useReleases()
// Whatever is kept makes the project's info again; the sheet is wanted first.
watchDebounced(() => project.info, releases.load, { debounce: 400, immediate: true })
const waits = computed(
  () => props.file !== null && releases.plugin(props.plugin)?.working.files.some(({ file }) => file === props.file),
)
</script>

<template>
  <router-link
    v-if="waits"
    class="small mark"
    :to="{ name: 'release', params: { plugin } }"
    title="The released version differs from this one"
  >
    not released
  </router-link>
</template>

<style scoped>
.mark {
  color: rgb(var(--v-theme-copper));
}
</style>
