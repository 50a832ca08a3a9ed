<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed } from 'vue'
import { useProject } from '../../../stores/project'

/** The hooks that run, as if every watched field had come just now. */
const props = defineProps<{ table: Table }>()
const hooks = defineModel<string[]>({ required: true })
const project = useProject()
const offered = computed(() =>
  project.hooks.filter(
    ({ table, moment, on }) =>
      table === props.table.name && moment !== 'before-commit' && (on.includes('create') || on.includes('update')),
  ),
)
</script>

<template>
  <p v-if="offered.length === 0" class="quiet small">{{ table.label }} has no hook that sets a value or changes other records.</p>
  <ul v-else aria-label="Hooks of the backfill">
    <li v-for="hook in offered" :key="hook.name">
      <label
        ><input v-model="hooks" type="checkbox" :value="hook.name" /> <span class="mono">{{ hook.name }}</span>
        <span class="quiet small what">
          {{ hook.moment }}{{ hook.watch.length > 0 ? `, as if ${hook.watch.join(', ')} had come just now` : ''
          }}{{ hook.on.includes('update') ? '' : ', as if the record were new' }}</span
        ></label
      >
    </li>
  </ul>
  <p class="quiet small">What runs is what is released; other hooks run where a value that is set wakes them.</p>
</template>

<style scoped>
ul {
  list-style: none;
}
.what {
  padding-left: 8px;
}
</style>
