<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import { useProject } from '../../stores/project'
import { matrixOf } from './matrix'

/** Hooks × fields: who reads, who writes, at which moment; two writers and reads before a write stand out. */
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
    <span class="quiet small">R reads · W writes · underlined: look at it</span>
    <span class="fill" />
    <select v-model="plugin" aria-label="Plugin">
      <option value="">all plugins</option>
      <option v-for="each in project.info?.plugins ?? []" :key="each.name">{{ each.name }}</option>
    </select>
    <select v-model="moment" aria-label="Moment">
      <option value="">all moments</option>
      <option>before-save</option>
      <option>after-save</option>
      <option>before-commit</option>
    </select>
  </div>
  <p v-if="matrix.length === 0" class="quiet">No hook reads or writes a field of this table.</p>
  <div v-else class="scroll" tabindex="0" aria-label="Matrix">
    <table class="plain-table matrix">
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
    </table>
  </div>
  <ul v-if="warnings.length" class="small" aria-label="To look at">
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
