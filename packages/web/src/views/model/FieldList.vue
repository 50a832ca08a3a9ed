<script setup lang="ts">
import type { Field, Table } from '@patient-hook/contract'
import { computed, nextTick, watch } from 'vue'
import { useProject } from '../../stores/project'
import PlainTable from '../../components/grid/PlainTable.vue'

/** The fields of a table, and the links to it. */
const props = defineProps<{ table: Table; marked: string }>()
const project = useProject()
const linkedFrom = computed(() =>
  project.tables.flatMap((each) =>
    each.fields.filter((field) => field.link?.table === props.table.name).map((field) => ({ table: each, field })),
  ),
)
const typeOf = (field: Field) =>
  field.link
    ? 'link'
    : field.enum
      ? 'enum'
      : (field.format ?? { string: 'text', integer: 'integer', number: 'number', boolean: 'yes/no' }[field.type])
const boundsOf = (field: Field) =>
  [
    field.minimum !== null ? `≥ ${field.minimum}` : '',
    field.maximum !== null ? `≤ ${field.maximum}` : '',
    field.exclusiveMinimum !== null ? `> ${field.exclusiveMinimum}` : '',
    field.exclusiveMaximum !== null ? `< ${field.exclusiveMaximum}` : '',
    field.multipleOf !== null ? `a multiple of ${field.multipleOf}` : '',
    field.minLength !== null ? `at least ${field.minLength} characters` : '',
    field.maxLength !== null ? `up to ${field.maxLength} characters` : '',
    field.pattern !== null ? `matches ${field.pattern}` : '',
    field.default !== null ? `default ${String(field.default)}` : '',
    field.group !== null ? `in ${field.group}` : '',
  ]
    .filter(Boolean)
    .join(', ')
watch(
  () => props.marked,
  async (name) => {
    await nextTick()
    if (name) document.getElementById(name)?.scrollIntoView({ block: 'nearest' })
  },
  { immediate: true },
)
</script>

<template>
  <PlainTable label="Fields">
    <thead>
      <tr>
        <th scope="col">label</th>
        <th scope="col">name</th>
        <th scope="col">type</th>
        <th scope="col">required</th>
        <th scope="col">choices, link, bounds</th>
        <th scope="col">help</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="field in table.fields" :id="field.name" :key="field.name" :class="{ marked: field.name === marked }">
        <th scope="row">{{ field.label }}</th>
        <td class="mono">{{ field.name }}</td>
        <td>{{ typeOf(field) }}<template v-if="field.unique">, unique</template></td>
        <td>{{ field.required ? 'yes' : '' }}</td>
        <td class="wrap">
          <template v-if="field.link">
            <router-link :to="{ name: 'model', params: { table: field.link.table } }">{{ field.link.table }}</router-link>, on
            delete {{ field.link.onDelete }}
          </template>
          <template v-else-if="field.enum">{{ field.enum.join(', ') }}</template>
          <template v-else>{{ boundsOf(field) }}</template>
        </td>
        <td class="wrap quiet">{{ field.help }}</td>
      </tr>
    </tbody>
  </PlainTable>
  <p v-if="table.uniqueSets.length" class="links">
    Unique together: {{ table.uniqueSets.map((set) => set.join(' and ')).join('; ') }}
  </p>
  <p v-if="linkedFrom.length" class="links">
    Linked from
    <template v-for="(each, index) in linkedFrom" :key="`${each.table.name}.${each.field.name}`">
      <template v-if="index"> · </template
      ><router-link :to="{ name: 'model', params: { table: each.table.name }, hash: `#${each.field.name}` }"
        >{{ each.table.name }}.{{ each.field.name }}</router-link
      >
    </template>
  </p>
</template>

<style scoped>
table {
  margin-top: 8px;
}
tr.marked {
  background: rgba(var(--v-theme-copper), 0.16);
}
.wrap {
  white-space: normal;
  max-width: 260px;
}
.links {
  margin-top: 8px;
}
a {
  color: rgb(var(--v-theme-primary));
}
</style>
