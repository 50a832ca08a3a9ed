<script setup lang="ts">
import { computed, ref } from 'vue'
import { useProject } from '../../stores/project'

/** The tables, and the field finder: a label, or a part of it, finds the name. */
defineProps<{ chosen: string | null }>()
const emit = defineEmits<{ make: []; file: [file: File] }>()
const project = useProject()
const finder = ref('')
const plain = (text: string) => text.toLowerCase().replace(/[^a-z0-9]+/g, '')
const found = computed(() => {
  const wanted = plain(finder.value)
  if (wanted === '') return []
  return project.tables
    .flatMap((each) => each.fields.map((field) => ({ table: each, field })))
    .filter(({ field }) => [field.label, field.name, field.help].some((text) => plain(text).includes(wanted)))
    .slice(0, 30)
})
function pick(event: Event): void {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  if (file) emit('file', file)
  input.value = ''
}
</script>

<template>
  <nav class="tables scroll line-r" aria-label="Tables">
    <div class="make">
      <button type="button" class="small" @click="emit('make')">+ New table</button>
      <label class="small"
        >Import…<input type="file" accept=".csv,.json,text/csv,application/json" aria-label="Import a table" @change="pick"
      /></label>
    </div>
    <input v-model="finder" type="search" placeholder="Find a field by its label" aria-label="Find a field" />
    <ul v-if="finder">
      <li v-for="each in found" :key="`${each.table.name}.${each.field.name}`">
        <router-link :to="{ name: 'model', params: { table: each.table.name }, hash: `#${each.field.name}` }" class="choice">
          {{ each.field.label }} <span class="mono quiet">{{ each.table.name }}.{{ each.field.name }}</span>
        </router-link>
      </li>
      <li v-if="found.length === 0" class="quiet none">No field is called that. Try a shorter word.</li>
    </ul>
    <ul v-else>
      <li v-for="each in project.tables" :key="each.name">
        <router-link
          :to="{ name: 'model', params: { table: each.name } }"
          class="choice"
          :class="{ chosen: each.name === chosen }"
        >
          {{ each.label }} <span class="mono quiet">{{ each.name }}</span>
        </router-link>
      </li>
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
  padding: 3px 12px;
}
.none {
  padding: 4px 12px;
}
</style>
