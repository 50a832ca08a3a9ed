<script setup lang="ts">
import type { CodeChange, HookInfo } from '@patient-hook/contract'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import ActionMenu from '../../components/ActionMenu.vue'
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
const actions = computed(() => [
  { title: 'Rename hook…', run: () => begin('rename') },
  ...(others.value.length > 0 ? [{ title: 'Move to another plugin…', run: () => begin('move') }] : []),
  { title: 'Remove hook…', danger: true, run: () => begin('remove') },
])
const WORDS = { rename: 'Rename', move: 'Move', remove: 'Remove' }

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
      <CodeChangePanel v-if="change" :change="change" :word="WORDS[doing]" :done="done" @cancel="doing = null" />
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
