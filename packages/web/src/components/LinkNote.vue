<script setup lang="ts">
import { api } from '../lib/api'
import { useAttempt } from '../lib/use-attempt'
import { useProject } from '../stores/project'
import ErrorNote from './ErrorNote.vue'
import FoldBox from './FoldBox.vue'

/** Where the linked folder and the working copy are not the same, and which text is meant. */
const project = useProject()
const { error, busy, attempt } = useAttempt()
const resolve = (file: string, take: 'folder' | 'application') =>
  attempt(async () => void (project.link = await api.resolveConflict(file, take)))
</script>

<template>
  <section
    v-if="project.link?.conflicts.length || project.link?.trouble.length"
    class="link small line-b"
    aria-label="Linked folder"
    role="status"
  >
    <p v-for="trouble in project.link.trouble" :key="trouble" class="refused">{{ project.link.folder }}: {{ trouble }}</p>
    <div v-for="{ file, why, folder, application } in project.link.conflicts" :key="file">
      <p class="row">
        <strong class="mono">{{ file }}</strong>
        {{ why === 'both' ? 'changed in the folder and here' : 'can only be changed in Model, together with its records' }}
        <v-btn v-if="why === 'both'" variant="outlined" :disabled="busy" @click="resolve(file, 'folder')">Use the folder’s</v-btn>
        <v-btn variant="outlined" :disabled="busy" @click="resolve(file, 'application')">Use this one</v-btn>
      </p>
      <FoldBox title="Compare">
        <div class="texts">
          <div>
            <span class="quiet">In the folder</span>
            <pre class="mono">{{ folder ?? '(no file)' }}</pre>
          </div>
          <div>
            <span class="quiet">Here</span>
            <pre class="mono">{{ application ?? '(no file)' }}</pre>
          </div>
        </div>
      </FoldBox>
    </div>
    <ErrorNote v-if="error" :error="error.report" />
  </section>
</template>

<style scoped>
.link {
  padding: 5px 14px;
  background: rgba(var(--v-theme-copper), 0.09);
  max-height: 45vh;
  overflow: auto;
}
.texts {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
pre {
  overflow: auto;
  max-height: 30vh;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
