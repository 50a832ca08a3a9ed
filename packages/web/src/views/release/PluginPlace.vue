<script setup lang="ts">
import type { CodeChange } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import ActionMenu from '../../components/ActionMenu.vue'
import CodeChangePanel from '../../components/CodeChangePanel.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import { api } from '../../lib/api'
import { bytesOf, download } from '../../lib/download'
import { useAttempt } from '../../lib/use-attempt'
import { useReleases } from '../../stores/releases'
import BringIn from './BringIn.vue'

/** Plugins are made, get another name, and go: in the working copy, until that is released. */
const props = defineProps<{ chosen: string | null }>()
const router = useRouter()
const releases = useReleases()
const doing = ref<'make' | 'rename' | 'remove' | 'import' | null>(null)
const { error, attempt } = useAttempt()
const name = ref('')
const change = computed<CodeChange | null>(() => {
  if (doing.value === 'make') return name.value === '' ? null : { kind: 'make-plugin', plugin: name.value, description: '' }
  if (props.chosen === null) return null
  if (doing.value === 'rename')
    return name.value === props.chosen || name.value === ''
      ? null
      : { kind: 'rename-plugin', plugin: props.chosen, name: name.value }
  return doing.value === 'remove' ? { kind: 'remove-plugin', plugin: props.chosen } : null
})
const actions = computed(() => [
  ...(props.chosen === null
    ? []
    : [
        { title: 'Rename plugin…', run: () => begin('rename') },
        { title: 'Remove plugin…', danger: true, run: () => begin('remove') },
        { title: 'Export as zip', hint: 'with the fixture sets of its tests', run: () => void takeOut() },
      ]),
  { title: 'Import from zip…', hint: 'a plugin or a project', run: () => (doing.value = 'import') },
])
const WORDS = { make: 'Create plugin', rename: 'Rename', remove: 'Remove' }
function begin(what: 'make' | 'rename' | 'remove'): void {
  doing.value = what
  name.value = what === 'rename' ? (props.chosen ?? '') : ''
}
/** A plugin as a zip. */
const takeOut = () =>
  attempt(async () => {
    const { name: file, zip } = await api.exportZip(props.chosen ?? undefined)
    download(file, bytesOf(zip), 'application/zip')
  })
async function arrived(plugin: string | null): Promise<void> {
  doing.value = null
  if (plugin !== null) await router.push({ name: 'release', params: { plugin } })
}
async function done(): Promise<void> {
  const to = doing.value === 'remove' ? props.chosen : name.value
  doing.value = null
  await releases.load()
  await router.push({ name: 'release', params: { plugin: to ?? '' } })
}
</script>

<template>
  <div class="place small">
    <ErrorNote v-if="error" :error="error.report" />
    <div v-if="!doing" class="row">
      <v-btn variant="outlined" color="primary" @click="begin('make')">New plugin</v-btn>
      <span class="fill" />
      <ActionMenu label="Plugin actions" :actions="actions" />
    </div>
    <BringIn v-else-if="doing === 'import'" @done="arrived" @cancel="doing = null" />
    <template v-else>
      <strong v-if="doing === 'remove'">Remove {{ chosen }}</strong>
      <v-text-field
        v-else
        v-model.trim="name"
        aria-label="Name of the plugin"
        placeholder="lot-labels"
        @keydown.esc="doing = null"
      />
      <CodeChangePanel
        v-if="change"
        :change="change"
        :word="WORDS[doing as keyof typeof WORDS]"
        :done="done"
        @cancel="doing = null"
      />
      <v-btn v-else variant="outlined" @click="doing = null">Cancel</v-btn>
    </template>
  </div>
</template>

<style scoped>
.place {
  padding: 8px 12px;
}
.row {
  flex-wrap: wrap;
}
</style>
