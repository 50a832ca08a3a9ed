<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import { useProject } from '../../stores/project'
import { matrixOf } from './matrix'
import PlainTable from '../../components/grid/PlainTable.vue'

/** Hooks × fields: reads and writes by moment; two writers and reads before a write are highlighted. */
const props = defineProps<{ table: Table }>()
const project = useProject()
const plugin = ref('')
const moment = ref('')
const hooks = computed(() =>
  project.hooks.filter(
    (hook) => (plugin.value === '' || hook.plugin === plugin.value) && (moment.value === '' || hook.moment === moment.value),
  ),
)
const matrix = computed(() => matrixOf(props.table, hooks.value))
const columns = computed(() => props.table.fields.filter((field) => matrix.value.some((row) => row.cells.has(field.name))))
const warnings = computed(() => [
  ...new Set(matrix.value.flatMap((row) => [...row.cells.values()].map((cell) => cell.warning).filter(Boolean))),
])
</script>

<template>
  <div class="row head">
    <h3>Hooks × fields</h3>
    <span class="quiet small">R reads · W writes · highlighted: possible conflict</span>
    <span class="fill" />
    <v-select
      v-model="plugin"
      aria-label="Plugin"
      :items="[
        { value: '', title: 'all plugins' },
        ...(project.info?.plugins ?? []).map((each) => ({ value: each.name, title: each.name })),
      ]"
    />
    <v-select
      v-model="moment"
      aria-label="Moment"
      :items="[
        { value: '', title: 'all moments' },
        { value: 'before-save', title: 'before-save' },
        { value: 'after-save', title: 'after-save' },
        { value: 'before-commit', title: 'before-commit' },
      ]"
    />
  </div>
  <p v-if="matrix.length === 0" class="quiet">No hook reads or writes a field of this table.</p>
  <div v-else class="scroll" tabindex="0" aria-label="Matrix">
    <PlainTable class="matrix" label="">
      <thead>
        <tr>
          <th scope="col">hook</th>
          <th scope="col">moment</th>
          <th v-for="field in columns" :key="field.name" scope="col" :title="field.label">{{ field.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in matrix" :key="row.hook.name">
          <th scope="row">
            <router-link :to="{ name: 'write', params: { hook: row.hook.name } }">{{ row.hook.name }}</router-link>
          </th>
          <td class="quiet">{{ row.hook.moment }}</td>
          <td
            v-for="field in columns"
            :key="field.name"
            class="cell"
            :class="{ warns: row.cells.get(field.name)?.warning }"
            :title="row.cells.get(field.name)?.warning"
          >
            <template v-if="row.cells.get(field.name)"
              ><span v-if="row.cells.get(field.name)!.reads" class="reads">R</span
              ><b v-if="row.cells.get(field.name)!.writes" class="copper">W</b></template
            >
          </td>
        </tr>
      </tbody>
    </PlainTable>
  </div>
  <ul v-if="warnings.length" class="small" aria-label="Possible conflicts">
    <li v-for="warning in warnings" :key="warning">{{ warning }}</li>
  </ul>
</template>

<style scoped>
h3 {
  font-size: 14px;
}
.head {
  margin: 20px 0 6px;
}
a {
  color: rgb(var(--v-theme-primary));
}
.cell {
  text-align: center;
}
.reads {
  color: rgb(var(--v-theme-info));
  margin-right: 2px;
}
.warns {
  background: rgba(var(--v-theme-warning), 0.18);
  text-decoration: underline;
}
ul {
  margin: 8px 0 0 18px;
}
</style>
