<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import { useProject } from '../../stores/project'
import { ICONS } from '../../theme/icons'

/** Type a label, insert the name: fields of the hook's table first, then of the others. */
const props = defineProps<{ table: Table }>()
const emit = defineEmits<{ insert: [name: string] }>()
const project = useProject()
const text = ref('')
/** Fields of the hook's table first. */
const fields = computed(() =>
  [props.table, ...project.tables.filter((each) => each.name !== props.table.name)].flatMap(({ name, fields }) =>
    fields.map((field) => ({
      value: `${name}.${field.name}`,
      title: field.label,
      props: { subtitle: `${name}.${field.name}` },
    })),
  ),
)
function choose(place: string | null): void {
  if (place === null) return
  emit('insert', place.slice(place.indexOf('.') + 1))
  text.value = ''
}
</script>

<template>
  <v-autocomplete
    v-model:search="text"
    :model-value="null"
    class="finder"
    placeholder="Insert field"
    aria-label="Insert a field by its label"
    auto-select-first
    :items="fields"
    :prepend-inner-icon="ICONS.search"
    menu-icon=""
    no-data-text="No field has that label"
    @update:model-value="choose"
  />
</template>

<style scoped>
.finder {
  width: 170px;
}
</style>
