<script setup lang="ts">
import type { CodeChange, HookInfo } from '@patient-hook/contract'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import CodeChangePanel from '../../components/CodeChangePanel.vue'
import { useProject } from '../../stores/project'

/** A hook's name and plugin: another one, or none any more. */
const props = defineProps<{ hook: HookInfo }>()
const router = useRouter()
const project = useProject()
const doing = ref<'rename' | 'move' | 'remove' | null>(null)
const name = ref('')
const plugin = ref('')
const others = computed(() => (project.info?.plugins ?? []).filter((each) => each.name !== props.hook.plugin))

function begin(what: 'rename' | 'move' | 'remove'): void {
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
const WORDS = { rename: 'Rename it', move: 'Move it', remove: 'Remove it' }

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
      <button type="button" class="toggle" @click="begin('rename')">Rename</button>
      <button v-if="others.length" type="button" class="toggle" @click="begin('move')">Move</button>
      <button type="button" class="toggle" @click="begin('remove')">Remove</button>
    </div>
    <template v-else>
      <input v-if="doing === 'rename'" v-model.trim="name" aria-label="New name of the hook" @keydown.esc="doing = null" />
      <select v-if="doing === 'move'" v-model="plugin" aria-label="Plugin to move it to">
        <option v-for="each in others" :key="each.name">{{ each.name }}</option>
      </select>
      <CodeChangePanel v-if="change" :change="change" :word="WORDS[doing]" :done="done" @cancel="doing = null" />
      <button v-else type="button" class="toggle" @click="doing = null">Cancel</button>
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
input,
select {
  width: 100%;
  margin-bottom: 4px;
}
</style>
