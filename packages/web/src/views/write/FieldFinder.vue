<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import { useProject } from '../../stores/project'

/** Type a label, insert the name: fields of the hook's table first, then of the others. */
const props = defineProps<{ table: Table }>()
const emit = defineEmits<{ insert: [name: string] }>()
const project = useProject()
const text = ref('')
const plain = (value: string) => value.toLowerCase().replace(/[^a-z0-9]+/g, '')
const found = computed(() => {
  const wanted = plain(text.value)
  if (wanted === '') return []
  return [props.table, ...project.tables.filter((each) => each.name !== props.table.name)]
    .flatMap((table) => table.fields.map((field) => ({ table, field })))
    .filter(({ field }) => plain(field.label).includes(wanted) || plain(field.name).includes(wanted))
    .slice(0, 8)
})
function choose(name: string): void {
  emit('insert', name)
  text.value = ''
}
</script>

<template>
  <div class="finder">
    <input
      v-model="text"
      type="search"
      placeholder="Field by label"
      aria-label="Field finder"
      @keydown.enter="found[0] && choose(found[0].field.name)"
      @keydown.esc="text = ''"
    />
    <ul v-if="found.length">
      <li v-for="each in found" :key="`${each.table.name}.${each.field.name}`">
        <button type="button" @click="choose(each.field.name)">
          {{ each.field.label }} <span class="mono quiet">{{ each.table.name }}.{{ each.field.name }}</span>
        </button>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.finder {
  position: relative;
}
input {
  width: 118px;
}
ul {
  position: absolute;
  right: 0;
  z-index: 6;
  list-style: none;
  background: rgb(var(--v-theme-surface));
  border: 1px solid rgb(var(--v-theme-line));
  min-width: 280px;
}
button {
  display: block;
  width: 100%;
  text-align: left;
  padding: 4px 10px;
  color: inherit;
}
button:hover,
button:focus {
  background: rgba(var(--v-theme-primary), 0.1);
}
</style>
