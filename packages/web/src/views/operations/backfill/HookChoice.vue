<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed } from 'vue'
import { useProject } from '../../../stores/project'

/** The hooks that run, as if every watched field had just changed. */
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
      <v-checkbox v-model="hooks" :value="hook.name"
        ><template #label
          ><span class="mono">{{ hook.name }}</span>
          <span class="quiet small what">
            {{ hook.moment }}{{ hook.watch.length > 0 ? `, as if ${hook.watch.join(', ')} had just changed` : ''
            }}{{ hook.on.includes('update') ? '' : ', as if the record were new' }}</span
          ></template
        ></v-checkbox
      >
    </li>
  </ul>
  <p class="quiet small">The released version runs. Other hooks run if a changed field is on their watch list.</p>
</template>

<style scoped>
ul {
  list-style: none;
}
.what {
  padding-left: 8px;
}
</style>
