<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import { contains } from '../../lib/natural'
import { useChosenInSight } from '../../lib/use-chosen-in-sight'
import { useProject } from '../../stores/project'

/** The tables, and the field finder: a label, or a part of it, finds the name. */
const props = defineProps<{ chosen: string | null }>()
const emit = defineEmits<{ make: []; file: [file: File] }>()
const project = useProject()
const finder = ref('')
const list = useTemplateRef<HTMLElement>('list')
useChosenInSight(list, () => props.chosen)
const tables = computed(() => project.tables.filter((each) => contains([each.label, each.name], finder.value)))
const fields = computed(() =>
  finder.value === ''
    ? []
    : project.tables
        .flatMap((each) => each.fields.map((field) => ({ table: each, field })))
        .filter(({ field }) => contains([field.label, field.name, field.help], finder.value))
        .slice(0, 30),
)
function pick(event: Event): void {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  if (file) emit('file', file)
  input.value = ''
}
</script>

<template>
  <nav ref="list" class="tables scroll line-r" aria-label="Tables">
    <div class="make">
      <button type="button" class="small" @click="emit('make')">+ New table</button>
      <label class="small"
        >Import…<input type="file" accept=".csv,.json,text/csv,application/json" aria-label="Import a table" @change="pick"
      /></label>
    </div>
    <input v-model="finder" type="search" placeholder="Table, or field by its label" aria-label="Find a table or field" />
    <ul>
      <li v-for="each in tables" :key="each.name">
        <router-link
          :to="{ name: 'model', params: { table: each.name } }"
          class="choice"
          :class="{ chosen: each.name === chosen }"
        >
          {{ each.label }} <span class="mono quiet">{{ each.name }}</span>
        </router-link>
      </li>
    </ul>
    <ul v-if="finder" class="fields" aria-label="Matches">
      <li v-for="each in fields" :key="`${each.table.name}.${each.field.name}`">
        <router-link :to="{ name: 'model', params: { table: each.table.name }, hash: `#${each.field.name}` }" class="choice">
          {{ each.field.label }} <span class="mono quiet">{{ each.table.name }}.{{ each.field.name }}</span>
        </router-link>
      </li>
      <li v-if="tables.length + fields.length === 0" class="quiet none">No table or field is called that. Try a shorter word.</li>
    </ul>
  </nav>
</template>

<style scoped>
.tables {
  width: 206px;
  flex: none;
  padding: 8px 0;
}
.make {
  display: flex;
  gap: 6px;
  padding: 0 10px 8px;
}
.make button,
.make label {
  border: 1px solid rgb(var(--v-theme-line));
  border-radius: 4px;
  padding: 1px 8px;
  color: rgb(var(--v-theme-primary));
  cursor: pointer;
}
.make input {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
.make label:focus-within {
  outline: 2px solid rgb(var(--v-theme-primary));
}
.tables > input {
  margin: 0 10px 8px;
  width: calc(100% - 20px);
}
ul {
  list-style: none;
}
a {
  display: block;
  overflow-wrap: anywhere;
  padding: 3px 12px;
}
.fields {
  margin-top: 6px;
  padding-top: 6px;
  border-top: 1px solid rgb(var(--v-theme-line));
}
.none {
  padding: 4px 12px;
}
</style>
