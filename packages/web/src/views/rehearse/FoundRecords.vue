<script setup lang="ts">
import type { Lookup, RecordPage } from '@patient-hook/contract'
import { computed, ref, shallowRef, watch } from 'vue'
import ErrorNote from '../../components/ErrorNote.vue'
import { ApiError, api, type TriedGround } from '../../lib/api'
import { show } from '../../lib/text'
import { useProject } from '../../stores/project'
import PlainTable from '../../components/grid/PlainTable.vue'

/** The records that a look-up found, as they stand where the run took place; read when they are opened. */
const props = defineProps<{ lookup: Lookup; ground: TriedGround }>()
const project = useProject()
const open = ref(false)
const page = shallowRef<RecordPage | null>(null)
const error = shallowRef<ApiError | null>(null)

/** What it asked for, else what tells a record from the others. */
const fields = computed(() => {
  const { asked } = props.lookup
  const all = project.table(props.lookup.table)?.fields.map((field) => field.name) ?? []
  const named = Array.isArray(asked['fields']) ? asked['fields'].map(String) : []
  const of = typeof asked['link'] === 'string' ? [asked['link']] : []
  return [...new Set([...of, ...(named.length > 0 ? named : all.slice(0, 5))])].filter((name) => all.includes(name))
})
const isLive = computed(() => props.ground.fixtures === undefined && props.ground.before === undefined)
const rest = computed(() => props.lookup.found - (page.value?.records.length ?? 0))

watch([open, () => props.lookup, () => props.ground], async () => {
  if (!open.value) return
  try {
    const { table, ids, call, asked } = props.lookup
    // Of a roll-up the ids are those that its records link to.
    const field = call === 'rollup' ? String(asked['link']) : 'id'
    page.value = await api.records(table, { where: JSON.stringify({ [field]: { in: ids } }), limit: 500, ...props.ground })
    error.value = null
  } catch (thrown) {
    if (!(thrown instanceof ApiError)) throw thrown
    error.value = thrown
  }
})
const labelOf = (field: string, value: unknown) => page.value?.labels[field]?.[String(value)]
</script>

<template>
  <v-btn
    class="link"
    :aria-expanded="open"
    :disabled="lookup.ids.length === 0"
    :aria-label="`${lookup.found} found in ${lookup.table}`"
    @click="open = !open"
  >
    <b>{{ lookup.found }}</b> found
  </v-btn>
  <div v-if="open" class="records">
    <ErrorNote v-if="error" :error="error.report" />
    <PlainTable :label="`Found ${lookup.table} records`" v-else-if="page">
      <thead>
        <tr>
          <th scope="col">id</th>
          <th v-for="field in fields" :key="field" scope="col" class="mono">{{ field }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="record in page.records" :key="record.id">
          <td>
            <router-link
              v-if="isLive"
              class="link"
              :to="{ name: 'records', params: { table: lookup.table, id: String(record.id) } }"
              >{{ record.id }}</router-link
            >
            <template v-else>{{ record.id }}</template>
          </td>
          <td v-for="field in fields" :key="field">
            {{ show(record[field]) }}
            <span v-if="labelOf(field, record[field])" class="quiet small">{{ labelOf(field, record[field]) }}</span>
          </td>
        </tr>
      </tbody>
    </PlainTable>
    <p v-if="page && rest > 0" class="quiet small">and {{ rest }} more, or removed since</p>
  </div>
</template>

<style scoped>
.link {
  color: rgb(var(--v-theme-primary));
}
.records {
  flex-basis: 100%;
  padding: 2px 0 8px 12px;
}
</style>
