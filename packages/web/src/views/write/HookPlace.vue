<script setup lang="ts">
import type { CodeChange, HookInfo } from '@patient-hook/contract'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import ActionMenu from '../../components/ActionMenu.vue'
import CodeChangePanel from '../../components/CodeChangePanel.vue'
import { api } from '../../lib/api'
import { useDrafts } from '../../stores/drafts'
import { useNotices } from '../../stores/notices'
import { useReleases } from '../../stores/releases'
import { ICONS } from '../../theme/icons'
import LiveFor from './LiveFor.vue'
import { useProject } from '../../stores/project'

/** A hook's name and plugin: another one, or none any more. */
const props = defineProps<{ hook: HookInfo }>()
const router = useRouter()
const project = useProject()
const releases = useReleases()
const drafts = useDrafts()
const notices = useNotices()
const doing = ref<'rename' | 'move' | 'remove' | 'live' | null>(null)
const name = ref('')
const plugin = ref('')
const others = computed(() => (project.info?.plugins ?? []).filter((each) => each.name !== props.hook.plugin))

function begin(what: 'rename' | 'move' | 'remove' | 'live'): void {
  doing.value = what
  name.value = props.hook.name
  plugin.value = others.value[0]?.name ?? ''
}
watch(
  () => props.hook.name,
  () => (doing.value = null),
)
const change = computed<CodeChange | null>(() => {
  const hook = props.hook.name
  if (doing.value === 'rename')
    return name.value === hook || name.value === '' ? null : { kind: 'rename-hook', hook, name: name.value }
  if (doing.value === 'move') return { kind: 'move-hook', hook, plugin: plugin.value }
  return doing.value === 'remove' ? { kind: 'remove-hook', hook } : null
})
const live = computed(() => releases.overview?.hooks.find(({ hook }) => hook === props.hook.name))
const isSwitchedOff = computed(() => live.value?.switched?.state === 'off')
/** The hook as everyone gets it becomes the text in the editor; nothing is saved. */
async function resetToLive(): Promise<void> {
  const release = releases.liveOf(props.hook.plugin)
  const { file, name: hook } = props.hook
  const text = release && (await api.releaseFiles(release.id)).files[file]
  if (!release || text === undefined) return
  const before = drafts.textOf(file)
  await drafts.open(file)
  drafts.write(file, text)
  notices.say(`${hook} is now as released in ${release.plugin} ${release.version}. Save to keep it.`, () =>
    drafts.write(file, before),
  )
}
const actions = computed(() => [
  { title: 'Live for…', icon: ICONS.pilot, run: () => begin('live') },
  ...(live.value
    ? [
        {
          title: isSwitchedOff.value ? 'Switch on for saves' : 'Switch off for saves',
          hint: 'takes effect at once, without a release',
          icon: ICONS.off,
          run: () => void releases.switchHook(props.hook.name, isSwitchedOff.value ? null : 'off'),
        },
        { title: 'Reset to live version', icon: ICONS.undo, run: () => void resetToLive() },
      ]
    : []),
  { title: 'Rename hook…', run: () => begin('rename') },
  ...(others.value.length > 0 ? [{ title: 'Move to another plugin…', run: () => begin('move') }] : []),
  { title: 'Remove hook…', danger: true, run: () => begin('remove') },
])
const WORDS: Record<string, string> = { rename: 'Rename', move: 'Move', remove: 'Remove' }

async function done(): Promise<void> {
  const to = doing.value === 'rename' ? name.value : doing.value === 'remove' ? '' : props.hook.name
  doing.value = null
  await router.push({ name: 'write', params: { hook: to } })
}
</script>

<template>
  <fieldset>
    <legend class="hidden">Name and place</legend>
    <div v-if="!doing" class="row">
      <strong class="fill">Definition</strong>
      <ActionMenu label="Hook actions" :actions="actions" />
    </div>
    <template v-else>
      <v-text-field v-if="doing === 'rename'" v-model.trim="name" aria-label="New name of the hook" @keydown.esc="doing = null" />
      <v-select
        v-if="doing === 'move'"
        v-model="plugin"
        aria-label="Plugin to move it to"
        :items="others.map((each) => ({ value: each.name, title: each.name }))"
      />
      <LiveFor v-if="doing === 'live'" :hook="hook" @done="doing = null" />
      <CodeChangePanel v-else-if="change" :change="change" :word="WORDS[doing]!" :done="done" @cancel="doing = null" />
      <v-btn v-else variant="outlined" @click="doing = null">Cancel</v-btn>
    </template>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  margin-bottom: 8px;
  min-width: 0;
}
.row {
  margin-bottom: 8px;
}
/* What the buttons say is enough for who sees them. */
.hidden {
  position: absolute;
  left: -999px;
}
</style>
