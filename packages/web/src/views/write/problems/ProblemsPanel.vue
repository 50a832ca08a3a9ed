<script setup lang="ts">
import type { Place } from '@patient-hook/contract'
import { computed, toRef } from 'vue'
import EmptyState from '../../../components/EmptyState.vue'
import PlainTable from '../../../components/grid/PlainTable.vue'
import { ICONS } from '../../../theme/icons'
import { useProblems } from './use-problems'

/** Everything to fix in the code of the plugin, errors first. */
const props = defineProps<{ plugin: string }>()
const emit = defineEmits<{ place: [place: Place] }>()
const { problems } = useProblems(toRef(props, 'plugin'))
const ICON: Record<string, { icon: string; color: string }> = {
  error: { icon: ICONS.refused, color: 'error' },
  warning: { icon: ICONS.warning, color: 'warning' },
  hint: { icon: ICONS.info, color: 'secondary' },
}
const iconOf = (severity: string) => ICON[severity] ?? ICON['hint']!
const summary = computed(() => {
  const of = (severity: string) => (problems.value ?? []).filter((each) => each.severity === severity).length
  return `${of('error')} errors, ${of('warning')} warnings, ${of('hint')} hints in ${props.plugin}`
})
</script>

<template>
  <EmptyState v-if="problems === null" title="Analyzing…" role="status"
    >Findings and type errors of the plugin appear here.</EmptyState
  >
  <EmptyState v-else-if="problems.length === 0" title="No problems"
    >TypeScript and the findings have nothing to report in this plugin.</EmptyState
  >
  <div v-else class="scroll panel" tabindex="0" aria-label="Problems">
    <p class="quiet small" role="status">{{ summary }}</p>
    <PlainTable label="Problems of the plugin">
      <tbody>
        <tr v-for="each in problems" :key="`${each.file} ${each.line} ${each.column} ${each.source} ${each.message}`">
          <td>
            <v-icon
              v-bind="iconOf(each.severity)"
              :aria-label="each.severity"
              :title="each.severity"
              aria-hidden="false"
              role="img"
              size="16"
            />
          </td>
          <td>
            <v-btn class="link mono" @click="emit('place', { file: each.file, line: each.line })"
              >{{ each.file.split('/').slice(2).join('/') }}:{{ each.line }}</v-btn
            >
          </td>
          <td class="message">{{ each.message }}</td>
          <td>
            <router-link
              v-if="!each.source.startsWith('TS')"
              class="link mono"
              :to="{ name: 'help', params: { page: 'findings' }, hash: `#${each.source}` }"
              >{{ each.source }}</router-link
            >
            <span v-else class="quiet mono">{{ each.source }}</span>
          </td>
        </tr>
      </tbody>
    </PlainTable>
  </div>
</template>

<style scoped>
.panel {
  height: 100%;
  padding: 4px 12px 12px;
}
.message {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
