<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { language } from '../../language/client'
import { useDrafts } from '../../stores/drafts'
import { useHooks } from '../../stores/hooks'
import { useProject } from '../../stores/project'

/** A new hook needs a name and a table; everything else is set beside its code. Nothing runs on saves before it is saved. */
const props = defineProps<{ table: string; plugin: string }>()
const emit = defineEmits<{ done: [] }>()
const router = useRouter()
const project = useProject()
const drafts = useDrafts()
const hooks = useHooks()

const name = ref('')
const table = ref(props.table)
const plugin = ref(props.plugin)
const problem = computed(() => {
  const wanted = name.value.trim()
  if (wanted === '') return null
  if (!/^[a-z][a-z0-9-]*$/.test(wanted)) return 'Use lower-case letters, digits and hyphens, starting with a letter.'
  if (hooks.hook(wanted)) return 'A hook with that name already exists.'
  return null
})
const ready = computed(() => name.value.trim() !== '' && problem.value === null && table.value !== '' && plugin.value !== '')

async function make(): Promise<void> {
  if (!ready.value) return
  const hook = name.value.trim()
  const file = `plugins/${plugin.value}/hooks/${hook}.ts`
  const text = await language('newHook', { table: table.value, moment: 'before-save', on: ['create', 'update'], watch: [] })
  drafts.create(file, text)
  await language('write', file, text)
  hooks.note(file, await language('outline', file))
  emit('done')
  await router.push({ name: 'write', params: { hook } })
}
</script>

<template>
  <form class="new line-b small" aria-label="New hook" @submit.prevent="make" @keydown.esc="emit('done')">
    <v-text-field label="Name" v-model="name" autofocus placeholder="lot-bay-from-site" />
    <p v-if="problem" class="refused" role="alert">{{ problem }}</p>
    <v-select label="Table" v-model="table" :items="project.tables.map((each) => ({ value: each.name, title: each.label }))" />
    <v-select
      label="Plugin"
      v-model="plugin"
      :items="(project.info?.plugins ?? []).map((each) => ({ value: each.name, title: each.name }))"
    />
    <div class="row">
      <v-btn variant="flat" color="primary" type="submit" :disabled="!ready">Create hook</v-btn>
      <v-btn @click="emit('done')">Cancel</v-btn>
    </div>
  </form>
</template>

<style scoped>
.new {
  display: grid;
  gap: 6px;
  padding: 8px 12px;
  background: rgb(var(--v-theme-surface));
}
label {
  display: grid;
  grid-template-columns: 52px 1fr;
  align-items: center;
}
</style>
