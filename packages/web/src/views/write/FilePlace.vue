<script setup lang="ts">
import type { CodeChange } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import CodeChangePanel from '../../components/CodeChangePanel.vue'

/** A module or a test is made, or goes. */
const props = defineProps<{
  what: 'lib' | 'tests' | 'remove'
  plugin: string
  file: string | null
  made: (file: string) => void
}>()
const emit = defineEmits<{ close: [] }>()
const name = ref('')
const change = computed<CodeChange | null>(() => {
  const { what, plugin, file } = props
  if (what === 'remove') return file === null ? null : { kind: 'remove-file', file }
  return name.value === '' ? null : { kind: 'make-file', plugin, folder: what, name: name.value }
})
const WORDS = { lib: 'Create module', tests: 'Create test', remove: 'Remove' }

async function done(): Promise<void> {
  const { what, plugin, made } = props
  if (what !== 'remove') made(`plugins/${plugin}/${what}/${name.value}${what === 'tests' ? '.test.ts' : '.ts'}`)
  emit('close')
  return Promise.resolve()
}
</script>

<template>
  <div class="place line-b small">
    <v-text-field
      v-if="what !== 'remove'"
      v-model.trim="name"
      :aria-label="what === 'lib' ? 'Name of the module' : 'Name of the test'"
      :placeholder="what === 'lib' ? 'seed-counts' : 'lot-mass'"
      @keydown.esc="emit('close')"
    />
    <CodeChangePanel v-if="change" :change="change" :word="WORDS[what]" :done="done" @cancel="emit('close')" />
    <v-btn v-else variant="outlined" @click="emit('close')">Cancel</v-btn>
  </div>
</template>

<style scoped>
.place {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
  padding: 4px 12px;
}
</style>
