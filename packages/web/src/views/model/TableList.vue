<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import { contains } from '../../lib/natural'
import { useChosenInSight } from '../../lib/use-chosen-in-sight'
import FilePick from '../../components/FilePick.vue'
import { useProject } from '../../stores/project'
import { ICONS } from '../../theme/icons'

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
</script>

<template>
  <div class="column line-r side">
    <nav ref="list" class="tables scroll fill" aria-label="Tables">
      <div class="make">
        <v-btn variant="outlined" color="primary" @click="emit('make')">New table</v-btn>
        <FilePick
          word="Import…"
          label="Import a table"
          accept=".csv,.json,text/csv,application/json"
          @file="(file) => emit('file', file)"
        />
      </div>
      <v-text-field type="search" v-model="finder" placeholder="Table or field" aria-label="Find a table or field" />
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
        <li v-if="tables.length + fields.length === 0" class="quiet none">No table or field matches. Try a shorter word.</li>
      </ul>
    </nav>
    <router-link :to="{ name: 'settings' }" class="choice settings"
      ><v-icon :icon="ICONS.operations" size="16" /> Project settings</router-link
    >
  </div>
</template>

<style scoped>
.side {
  width: 206px;
  flex: none;
}
.tables {
  padding: 8px 0;
}
.make {
  display: flex;
  gap: 6px;
  padding: 0 10px 8px;
}
.tables > .v-text-field {
  margin: 0 10px 8px;
}
.settings {
  padding: 8px 12px;
  border-top: 1px solid rgb(var(--v-theme-line));
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
