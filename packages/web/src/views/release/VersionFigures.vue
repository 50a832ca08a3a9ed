<script setup lang="ts">
import type { HookFigures, HookHour } from '@patient-hook/contract'
import { computed } from 'vue'
import PlainTable from '../../components/grid/PlainTable.vue'

/** How a hook did in each of its versions, to be compared: a pilot beside what the others get. */
const props = defineProps<{ hours: readonly HookHour[] }>()
const versions = computed(() => {
  const sums = new Map<string, HookFigures>()
  for (const { version, saves, ran, refused, failed, ms } of props.hours) {
    const sum = sums.get(version) ?? { saves: 0, ran: 0, refused: 0, failed: 0, ms: 0 }
    sums.set(version, {
      saves: sum.saves + saves,
      ran: sum.ran + ran,
      refused: sum.refused + refused,
      failed: sum.failed + failed,
      ms: sum.ms + ms,
    })
  }
  return [...sums].map(([version, figures]) => ({ version, ...figures }))
})
const share = (count: number, ran: number) => (ran === 0 ? '–' : `${((100 * count) / ran).toFixed(1)} %`)
</script>

<template>
  <PlainTable label="Figures by version">
    <thead>
      <tr>
        <th scope="col">version</th>
        <th scope="col">saves</th>
        <th scope="col">rows</th>
        <th scope="col">refused</th>
        <th scope="col">failed</th>
        <th scope="col">time time per row</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="{ version, saves, ran, refused, failed, ms } in versions" :key="version">
        <td>
          <strong>{{ version }}</strong>
        </td>
        <td class="number">{{ saves.toLocaleString('en') }}</td>
        <td class="number">{{ ran.toLocaleString('en') }}</td>
        <td class="number">{{ refused }} ({{ share(refused, ran) }})</td>
        <td class="number">{{ failed }} ({{ share(failed, ran) }})</td>
        <td class="number">{{ ran === 0 ? '–' : `${(ms / ran).toFixed(3)} ms` }}</td>
      </tr>
    </tbody>
  </PlainTable>
</template>

<style scoped>
.number {
  text-align: right;
}
</style>
