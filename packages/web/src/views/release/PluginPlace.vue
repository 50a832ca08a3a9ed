<script setup lang="ts">
import type { CodeChange } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import CodeChangePanel from '../../components/CodeChangePanel.vue'
import { useReleases } from '../../stores/releases'

/** Plugins are made, get another name, and go: in the working copy, until that is released. */
const props = defineProps<{ chosen: string | null }>()
const router = useRouter()
const releases = useReleases()
const doing = ref<'make' | 'rename' | 'remove' | null>(null)
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
const WORDS = { make: 'Make it', rename: 'Rename it', remove: 'Remove it' }
function begin(what: 'make' | 'rename' | 'remove'): void {
  doing.value = what
  name.value = what === 'rename' ? (props.chosen ?? '') : ''
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
    <div v-if="!doing" class="row">
      <button type="button" class="toggle" @click="begin('make')">New plugin</button>
      <template v-if="chosen">
        <button type="button" class="toggle" @click="begin('rename')">Rename</button>
        <button type="button" class="toggle" @click="begin('remove')">Remove</button>
      </template>
    </div>
    <template v-else>
      <strong v-if="doing === 'remove'">Remove {{ chosen }}</strong>
      <input v-else v-model.trim="name" aria-label="Name of the plugin" placeholder="lot-labels" @keydown.esc="doing = null" />
      <CodeChangePanel v-if="change" :change="change" :word="WORDS[doing]" :done="done" @cancel="doing = null" />
      <button v-else type="button" class="toggle" @click="doing = null">Cancel</button>
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
input {
  width: 100%;
  margin-bottom: 4px;
}
</style>
