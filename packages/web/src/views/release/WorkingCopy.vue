<script setup lang="ts">
import type { PluginReleases } from '@patient-hook/contract'
import { Pane } from 'splitpanes'
import { computed, shallowRef, watch } from 'vue'
import EmptyState from '../../components/EmptyState.vue'
import SplitBox from '../../components/SplitBox.vue'
import { api } from '../../lib/api'
import FileDiffs from './FileDiffs.vue'
import ReleaseForm from './ReleaseForm.vue'
import { CHANGE_SIGNS } from './words'

/** What the working copy of a plugin has beside what is live, and its release. */
const props = defineProps<{ plugin: PluginReleases }>()
const differs = computed(() => props.plugin.working.files.length > 0)
const texts = shallowRef<{ before: Record<string, string>; after: Record<string, string> } | null>(null)

watch(
  () => [props.plugin.live, props.plugin.working] as const,
  async ([live]) => {
    if (!differs.value) return
    const [before, after] = await Promise.all([
      live === null ? { files: {} } : api.releaseFiles(live),
      api.pluginFiles(props.plugin.plugin).catch(() => ({ files: {} })),
    ])
    texts.value = { before: before.files, after: after.files }
  },
  { immediate: true },
)
</script>

<template>
  <EmptyState v-if="!differs" title="No unreleased changes">
    Saved changes (Ctrl+S) appear here until you release them.
  </EmptyState>
  <SplitBox v-else name="working-copy" class="fill">
    <Pane :size="58" :min-size="25">
      <div class="column pane">
        <ul class="hooks line-b" aria-label="Changed hooks">
          <li v-for="{ hook, change, says } in plugin.working.hooks" :key="hook">
            <span class="sign" :class="change" aria-hidden="true">{{ CHANGE_SIGNS[change] }}</span>
            <router-link v-if="change !== 'removed'" class="link" :to="{ name: 'write', params: { hook } }">{{
              hook
            }}</router-link>
            <span v-else>{{ hook }}</span>
            <span class="quiet small says">{{ change }}: {{ says }}</span>
          </li>
          <li v-if="plugin.working.hooks.length === 0" class="quiet">No hooks changed. Other files did.</li>
        </ul>
        <FileDiffs v-if="texts" class="fill" :files="plugin.working.files" :before="texts.before" :after="texts.after" />
      </div>
    </Pane>
    <Pane :size="42" :min-size="25"><ReleaseForm :plugin="plugin" /></Pane>
  </SplitBox>
</template>

<style scoped>
.pane {
  height: 100%;
}
.hooks {
  list-style: none;
  max-height: 30%;
  overflow: auto;
  padding: 6px 16px;
}
.sign {
  display: inline-block;
  width: 1.2em;
  font-weight: 700;
}
.added {
  color: rgb(var(--v-theme-success));
}
.removed {
  color: rgb(var(--v-theme-error));
}
.changed,
.moved {
  color: rgb(var(--v-theme-copper));
}
.says {
  margin-left: 8px;
}
</style>
