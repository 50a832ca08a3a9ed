<script setup lang="ts">
import type { Value } from '@patient-hook/contract'
import { show } from '../lib/text'
import { useProject } from '../stores/project'
import PlainTable from './grid/PlainTable.vue'

/** Changes of records: field, from, to and what did it, under the record that they belong to. */
export interface RecordChanges {
  table: string
  id: number | null
  /** What people call it, where that is known. */
  title?: string | null
  event?: string
  /** Of a ripple; 0: what was given. */
  depth: number
  changes: readonly { field: string; from: unknown; to: unknown; by: string }[]
}
const props = withDefaults(
  defineProps<{
    label: string
    records: readonly RecordChanges[]
    words?: readonly [from: string, to: string]
    /** What would come of a save: new records are not there. */
    rehearsed?: boolean
  }>(),
  { words: () => ['from', 'to'] },
)
const project = useProject()
const titleOf = ({ table, id, title }: RecordChanges) => `${project.table(table)?.label ?? table} ${title ?? id ?? '(new)'}`
const isThere = ({ id, event }: RecordChanges): boolean => id !== null && !(props.rehearsed && event === 'create')
</script>

<template>
  <PlainTable :label="label">
    <thead>
      <tr>
        <th scope="col">record</th>
        <th scope="col">field</th>
        <th scope="col">{{ words[0] }}</th>
        <th scope="col">{{ words[1] }}</th>
        <th scope="col">by</th>
      </tr>
    </thead>
    <tbody v-for="(record, index) in records" :key="index">
      <tr v-for="(change, at) in record.changes" :key="change.field">
        <td>
          <template v-if="at === 0">
            <span v-if="record.depth > 0" class="quiet" :title="`a ripple, ${record.depth} deep`">{{
              '↳'.repeat(record.depth)
            }}</span>
            <router-link
              v-if="isThere(record)"
              class="link"
              :to="{ name: 'records', params: { table: record.table, id: String(record.id) } }"
              >{{ titleOf(record) }}</router-link
            >
            <template v-else>{{ titleOf({ ...record, id: null }) }}</template>
            <span v-if="record.event" class="quiet small event">{{ record.event }}</span>
          </template>
        </td>
        <td>{{ change.field }}</td>
        <td>{{ show(change.from as Value) }}</td>
        <td>{{ show(change.to as Value) }}</td>
        <td class="quiet small">{{ change.by }}</td>
      </tr>
    </tbody>
  </PlainTable>
</template>

<style scoped>
td {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.event {
  margin-left: 6px;
}
</style>
