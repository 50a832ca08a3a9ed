<script setup lang="ts">
import type { RecordPage, Table } from '@patient-hook/contract'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import { ApiError, api, type TriedGround } from '../lib/api'
import { latestOnly } from '../lib/latest'
import { show } from '../lib/text'

/** Finds records: by any text of theirs, or the id. */
const props = defineProps<{
  tables: readonly Table[]
  ground: TriedGround
  chosen: readonly string[]
  label: string
  /** A new record may be begun here, too. */
  makes?: boolean
}>()
const table = defineModel<string>('table', { required: true })
const emit = defineEmits<{ add: [table: Table, id: number]; make: [table: Table]; failed: [error: ApiError] }>()

const search = ref('')
const page = shallowRef<RecordPage | null>(null)
const current = computed(() => props.tables.find((each) => each.name === table.value))

const latest = latestOnly()
async function load(): Promise<void> {
  if (!current.value) return
  try {
    const asked = { search: search.value, limit: 60, ...props.ground }
    const answer = await latest(api.records(current.value.name, asked))
    if (answer) page.value = answer
  } catch (thrown) {
    if (!(thrown instanceof ApiError)) throw thrown
    page.value = null
    emit('failed', thrown)
  }
}
watchDebounced([table, search, () => props.ground], load, { debounce: 80, immediate: true })

/** What tells a record from the others: its first few values, links by their names. */
function wordsOf(record: RecordPage['records'][number]): string {
  const words = current.value!.fields.flatMap((field) => {
    const value = record[field.name]
    if (value === null || value === undefined) return []
    return [field.link ? (page.value?.labels[field.name]?.[String(value)] ?? String(value)) : show(value)]
  })
  return words.slice(0, 3).join(' · ')
}
</script>

<template>
  <nav class="chooser column" :aria-label="label">
    <div class="bar">
      <v-select
        class="table"
        v-model="table"
        aria-label="Table"
        :items="tables.map((each) => ({ value: each.name, title: each.label }))"
      />
      <v-text-field
        type="search"
        class="search"
        v-model="search"
        placeholder="Any text, or an id"
        aria-label="Search the records"
      />
      <v-btn v-if="current && makes" variant="outlined" color="primary" @click="emit('make', current)">
        New {{ current.label }}
      </v-btn>
    </div>
    <ul class="scroll fill" tabindex="0" :aria-label="`${current?.label ?? ''} records`">
      <li v-for="record in page?.records ?? []" :key="record.id">
        <v-btn
          class="choice"
          :class="{ chosen: chosen.includes(`${table} ${record.id}`) }"
          @click="emit('add', current!, record.id)"
        >
          <span class="mono">{{ record.id }}</span> <span class="words">{{ wordsOf(record) }}</span>
        </v-btn>
      </li>
      <li v-if="page && page.records.length === 0" class="quiet none">
        {{ search ? 'No matches.' : 'No records here.' }}
      </li>
    </ul>
    <div v-if="page && page.total > page.records.length" class="quiet small none">
      the first {{ page.records.length }} of {{ page.total }}
    </div>
  </nav>
</template>

<style scoped>
.chooser {
  height: 100%;
  background: rgb(var(--v-theme-background));
}
.bar > .table {
  flex: 1 1 90px;
}
.bar > .search {
  order: 3;
  flex: 1 1 100%;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding: 8px 10px;
}
ul {
  list-style: none;
}
.choice {
  display: flex;
  gap: 8px;
  width: 100%;
  text-align: left;
  padding: 3px 10px;
}
.words {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.none {
  padding: 6px 12px;
}
</style>
