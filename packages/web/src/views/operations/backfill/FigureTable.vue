<script setup lang="ts">
import type { BackfillFigures, BackfillLeft } from '@patient-hook/contract'
import { computed } from 'vue'
import { figureLines } from './words'
import PlainTable from '../../../components/grid/PlainTable.vue'

/** What a backfill did, or would do, in figures; and the records that it left, each with why. */
const props = defineProps<{
  figures: BackfillFigures
  left: readonly BackfillLeft[]
  /** The file whose rows they are; default: records. */
  file?: string
}>()
const lines = computed(() => figureLines(props.figures))
const MOST = 100
</script>

<template>
  <PlainTable label="Figures">
    <tbody>
      <tr v-for="{ what, count } in lines" :key="what">
        <th scope="row">{{ what }}</th>
        <td class="number">{{ count }}</td>
      </tr>
    </tbody>
  </PlainTable>
  <PlainTable label="Skipped records" v-if="left.length">
    <thead>
      <tr>
        <th scope="col">{{ file === undefined ? 'record' : `row of ${file}` }}</th>
        <th scope="col">field</th>
        <th scope="col">why it was skipped</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(each, at) in left.slice(0, MOST)" :key="at">
        <td>
          <template v-if="file !== undefined">row {{ each.id }}</template>
          <router-link v-else class="link" :to="{ name: 'records', params: { table: each.table, id: String(each.id) } }"
            >{{ each.table }} {{ each.id }}</router-link
          >
        </td>
        <td>{{ each.field ?? '' }}</td>
        <td class="refused">{{ each.message }}</td>
      </tr>
    </tbody>
  </PlainTable>
  <p v-if="left.length > MOST" class="quiet small">and {{ left.length - MOST }} more</p>
</template>

<style scoped>
table {
  margin-top: 8px;
}
td.number {
  text-align: right;
}
td.refused {
  white-space: normal;
  max-width: 60ch;
}
</style>
