<script setup lang="ts">
import type { HookInfo } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import ErrorNote from '../../components/ErrorNote.vue'
import { usePluginSettings } from '../../stores/plugin-settings'
import { useProject } from '../../stores/project'

/** Who a hook is live for from the next release: everyone, pilot users, or nobody. */
const props = defineProps<{ hook: HookInfo }>()
const emit = defineEmits<{ done: [] }>()
const project = useProject()
const settings = usePluginSettings()
const state = ref(props.hook.state.state)
const users = ref<string[]>(props.hook.state.state === 'pilot' ? [...props.hook.state.users] : [])
const all = computed(() => (project.info?.users ?? []).map(({ name, title }) => ({ value: name, title: title || name })))

async function save(): Promise<void> {
  await settings.setState(
    props.hook.name,
    state.value === 'pilot' ? { state: 'pilot', users: users.value } : { state: state.value },
  )
  if (!settings.error) emit('done')
}
</script>

<template>
  <v-form class="live" aria-label="Live for" @submit.prevent="save">
    <v-radio-group v-model="state" label="Live for, from the next release">
      <v-radio value="live" label="everyone" />
      <v-radio value="pilot" label="pilot users" />
      <v-radio value="off" label="nobody (off)" />
    </v-radio-group>
    <v-select v-if="state === 'pilot'" v-model="users" label="Pilot users" :items="all" multiple chips />
    <ErrorNote v-if="settings.error" :error="settings.error.report" />
    <div class="row">
      <v-btn variant="flat" color="primary" type="submit" :disabled="settings.busy || (state === 'pilot' && users.length === 0)"
        >Save</v-btn
      >
      <v-btn @click="emit('done')">Cancel</v-btn>
    </div>
  </v-form>
</template>

<style scoped>
.live {
  display: grid;
  gap: 8px;
}
</style>
