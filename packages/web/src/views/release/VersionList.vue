<script setup lang="ts">
import type { PluginReleases, ReleaseInfo, TextChanges } from '@patient-hook/contract'
import { computed, shallowRef, watch } from 'vue'
import { api } from '../../lib/api'
import { useProject } from '../../stores/project'
import { useReleases } from '../../stores/releases'
import FileDiffs from './FileDiffs.vue'
import { audienceWord, gateWord, titleOf } from './words'
import PlainTable from '../../components/grid/PlainTable.vue'
import MomentText from '../../components/MomentText.vue'

/** Every version of a plugin, newest first, with audience; two of them side by side. */
const props = defineProps<{ plugin: PluginReleases }>()
const project = useProject()
const releases = useReleases()

const left = shallowRef<number | null>(null)
const right = shallowRef<number | null>(null)
const texts = shallowRef<{ before: Record<string, string>; after: Record<string, string> } | null>(null)
watch(
  () => props.plugin.releases.map(({ id }) => id).join(),
  () => {
    right.value = props.plugin.releases[0]?.id ?? null
    left.value = props.plugin.releases[1]?.id ?? right.value
  },
  { immediate: true },
)
watch(
  [left, right],
  async ([a, b]) => {
    if (a === null || b === null || a === b) return void (texts.value = null)
    const [before, after] = await Promise.all([api.releaseFiles(a), api.releaseFiles(b)])
    texts.value = { before: before.files, after: after.files }
  },
  { immediate: true },
)
const changed = computed<TextChanges['files']>(() => {
  if (!texts.value) return []
  const { before, after } = texts.value
  return [...new Set([...Object.keys(before), ...Object.keys(after)])]
    .sort()
    .filter((file) => before[file] !== after[file])
    .map((file) => ({
      file,
      change: before[file] === undefined ? 'added' : after[file] === undefined ? 'removed' : 'changed',
    }))
})
const isLive = ({ id }: ReleaseInfo) => id === props.plugin.live
const isPilot = ({ audience }: ReleaseInfo) => audience !== null && audience.length > 0
const canOpen = (release: ReleaseInfo) =>
  release.audience !== null && (props.plugin.live === null || release.id > props.plugin.live)
/** Somebody more, or one less. */
function toggle({ id, audience }: ReleaseInfo, user: string): void {
  const now = audience ?? []
  void releases.setAudience(id, now.includes(user) ? now.filter((each) => each !== user) : [...now, user])
}
const versions = computed(() => props.plugin.releases.map(({ id, version }) => ({ value: id, title: version })))
const versionOf = (id: number | null) => props.plugin.releases.find((each) => each.id === id)?.version ?? ''
</script>

<template>
  <div class="column fill">
    <div class="scroll versions" tabindex="0" aria-label="Versions">
      <PlainTable label="Versions">
        <thead>
          <tr>
            <th scope="col">version</th>
            <th scope="col">audience</th>
            <th scope="col">released</th>
            <th scope="col">by</th>
            <th scope="col">checks</th>
            <th scope="col">release note</th>
            <th scope="col"><span class="quiet">to do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="release in plugin.releases" :key="release.id" :class="{ chosen: isLive(release) }">
            <td>
              <strong>{{ release.version }}</strong>
            </td>
            <td v-if="isPilot(release)">
              <span class="row copper" role="group" :aria-label="`Audience of ${release.version}`">
                pilot:
                <v-checkbox
                  v-for="user in project.info?.users ?? []"
                  :key="user.name"
                  :title="user.title"
                  :model-value="release.audience!.includes(user.name)"
                  :disabled="releases.busy"
                  @update:model-value="toggle(release, user.name)"
                  :label="user.name"
                />
              </span>
            </td>
            <td v-else>{{ audienceWord(release, isLive(release)) }}</td>
            <td class="quiet"><MomentText :at="release.at" /></td>
            <td class="quiet" :title="titleOf(project.info?.users ?? [], release.user)">{{ release.user }}</td>
            <td :title="release.reason ?? ''" :class="{ refused: release.gate.some(({ holds }) => !holds) }">
              {{ gateWord(release) }}
            </td>
            <td class="note" :title="release.note">{{ release.note }}</td>
            <td>
              <span class="row">
                <v-btn
                  v-if="isPilot(release)"
                  variant="outlined"
                  :disabled="releases.busy"
                  @click="releases.setAudience(release.id, [])"
                >
                  End pilot
                </v-btn>
                <v-btn
                  v-if="canOpen(release)"
                  variant="outlined"
                  :disabled="releases.busy"
                  @click="releases.setAudience(release.id, null)"
                >
                  Release to everyone
                </v-btn>
                <v-btn
                  v-if="!isLive(release) && !isPilot(release) && !canOpen(release)"
                  variant="outlined"
                  :disabled="releases.busy"
                  @click="releases.stepBack(plugin.plugin, release.id)"
                >
                  Roll back to this version
                </v-btn>
              </span>
            </td>
          </tr>
        </tbody>
      </PlainTable>
    </div>
    <div v-if="plugin.releases.length > 1" class="row compare line-t">
      <v-select v-model="left" label="Compare" max-width="160" :items="versions" />
      <v-select v-model="right" label="with" max-width="160" :items="versions" />
    </div>
    <FileDiffs v-if="texts && changed.length" class="fill line-t" :files="changed" :before="texts.before" :after="texts.after" />
    <p v-else class="quiet fill line-t none">
      {{
        left === right
          ? 'Choose two versions to see the differences.'
          : `${versionOf(left)} and ${versionOf(right)} are the same text.`
      }}
    </p>
  </div>
</template>

<style scoped>
.versions {
  max-height: 50%;
  padding: 4px 16px 8px;
}
.chosen {
  background: rgba(var(--v-theme-primary), 0.1);
}
.note {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.compare {
  padding: 8px 16px 4px;
}
.none {
  padding: 12px 16px;
}
</style>
