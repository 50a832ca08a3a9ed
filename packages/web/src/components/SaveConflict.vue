<script setup lang="ts">
import { ref } from 'vue'
import { useDrafts } from '../stores/drafts'

/** A file that somebody else saved after the edit here began: nothing is overwritten before one of them is chosen. */
const drafts = useDrafts()
const failed = ref('')

async function choose(way: 'mine' | 'theirs' | 'merge'): Promise<void> {
  try {
    failed.value = ''
    await drafts.resolve(way)
  } catch (error) {
    failed.value = (error as Error).message
  }
}
</script>

<template>
  <v-dialog :model-value="drafts.conflict !== null" max-width="560" persistent @keydown.esc="drafts.conflict = null">
    <v-card v-if="drafts.conflict" title="Somebody else saved this file">
      <v-card-text>
        <p class="mono mb-2">{{ drafts.conflict.path }}</p>
        <p class="mb-2">It was saved after you started editing. Your draft is intact, and no file was overwritten.</p>
        <p>“Keep mine” and “Merge both” change your draft only. Review it, then save again.</p>
        <p v-if="failed" class="refused" role="alert">{{ failed }}</p>
      </v-card-text>
      <v-card-actions>
        <v-btn @click="drafts.conflict = null">Keep editing</v-btn>
        <v-spacer />
        <v-btn @click="choose('theirs')">Take theirs</v-btn>
        <v-btn @click="choose('mine')">Keep mine</v-btn>
        <v-btn variant="flat" color="primary" @click="choose('merge')">Merge both</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>
