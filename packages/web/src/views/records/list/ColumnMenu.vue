<script setup lang="ts">
import type { Table } from '@patient-hook/contract'
import { computed } from 'vue'
import MenuBox from '../../../components/MenuBox.vue'

/** Which columns a list has, and in which order. */
const props = defineProps<{ table: Table; columns: readonly string[] }>()
const emit = defineEmits<{ change: [columns: string[]] }>()
const labelOf = (name: string) => props.table.fields.find((field) => field.name === name)?.label ?? name
const hidden = computed(() => props.table.fields.map(({ name }) => name).filter((name) => !props.columns.includes(name)))

function move(at: number, by: number): void {
  const next = [...props.columns]
  const [name] = next.splice(at, 1)
  next.splice(at + by, 0, name!)
  emit('change', next)
}
</script>

<template>
  <MenuBox title="Columns">
    <div v-for="(name, at) in columns" :key="name" class="row">
      <v-checkbox
        class="fill"
        :model-value="true"
        :disabled="columns.length === 1"
        @update:model-value="
          emit(
            'change',
            columns.filter((each) => each !== name),
          )
        "
        :label="labelOf(name)"
      />
      <v-btn variant="outlined" :disabled="at === 0" :aria-label="`${labelOf(name)} to the left`" @click="move(at, -1)">
        ←
      </v-btn>
      <v-btn
        variant="outlined"
        :disabled="at === columns.length - 1"
        :aria-label="`${labelOf(name)} to the right`"
        @click="move(at, 1)"
      >
        →
      </v-btn>
    </div>
    <div v-for="name in hidden" :key="name" class="row">
      <v-checkbox class="fill quiet" @update:model-value="emit('change', [...columns, name])" :label="labelOf(name)" />
    </div>
    <v-btn
      variant="outlined"
      class="all"
      @click="
        emit(
          'change',
          table.fields.map(({ name }) => name),
        )
      "
    >
      Show all columns
    </v-btn>
  </MenuBox>
</template>

<style scoped>
.row {
  padding: 1px 0;
  gap: 2px;
}
.all {
  margin-top: 6px;
}
</style>
