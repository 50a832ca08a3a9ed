<script setup lang="ts">
import type { RecordPage, Table } from '@patient-hook/contract'
import { ref } from 'vue'
import { show } from '../../lib/text'

/** A page of records; links show what people call the record. */
const props = defineProps<{ table: Table; page: RecordPage; chosen: number | null; columns: readonly string[] }>()
const order = defineModel<string>('order', { required: true })
const emit = defineEmits<{ choose: [id: number]; why: [id: number, field: string] }>()

/** The cell that is pointed at. */
const looked = ref('')
const sort = (name: string) => (order.value = order.value === name ? `-${name}` : name)
const arrow = (name: string) => (order.value === name ? ' ↑' : order.value === `-${name}` ? ' ↓' : '')
const fieldOf = (name: string) => props.table.fields.find((field) => field.name === name)!
const isNumber = (name: string) => ['integer', 'number'].includes(fieldOf(name).type) && !fieldOf(name).link
</script>

<template>
  <div class="scroll fill" tabindex="0" :aria-label="`${table.label} records`">
    <table class="data-grid">
      <thead>
        <tr>
          <th scope="col">
            <button type="button" @click="sort('id')">id{{ arrow('id') }}</button>
          </th>
          <th v-for="name in columns" :key="name" scope="col" :class="{ number: isNumber(name) }">
            <button type="button" :title="name" @click="sort(name)">{{ fieldOf(name).label }}{{ arrow(name) }}</button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="record in page.records"
          :key="record.id"
          :class="{ chosen: record.id === chosen }"
          @click="emit('choose', record.id)"
        >
          <th scope="row">
            <button type="button" class="mono">{{ record.id }}</button>
          </th>
          <td
            v-for="name in columns"
            :key="name"
            :class="{ number: isNumber(name), quiet: record[name] === null }"
            :title="show(record[name])"
            @mouseenter="looked = `${record.id} ${name}`"
          >
            {{
              fieldOf(name).link && record[name] !== null
                ? (page.labels[name]?.[String(record[name])] ?? record[name])
                : show(record[name])
            }}
            <button
              v-if="looked === `${record.id} ${name}`"
              type="button"
              class="why"
              :aria-label="`Why is ${fieldOf(name).label} of ${record.id} what it is?`"
              @click.stop="emit('why', record.id, name)"
            >
              ?
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
th,
td {
  max-width: 240px;
}
thead button {
  font-weight: 620;
  color: inherit;
}
.number {
  text-align: right;
}
tbody tr {
  cursor: pointer;
}
tbody tr:hover {
  background: rgba(var(--v-theme-primary), 0.06);
}
/* Beside the value of the cell that is looked at. */
td {
  position: relative;
}
.why {
  position: absolute;
  right: 2px;
  top: 6px;
  width: 18px;
  height: 18px;
  line-height: 18px;
  border-radius: 9px;
  text-align: center;
  background: rgb(var(--v-theme-primary));
  color: rgb(var(--v-theme-on-primary));
}
tr.chosen {
  background: rgba(var(--v-theme-primary), 0.14);
}
tbody th button {
  color: rgb(var(--v-theme-primary));
}
</style>
