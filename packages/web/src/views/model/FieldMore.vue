<script setup lang="ts">
import type { Field, FieldEdit, Value } from '@patient-hook/contract'
import { computed } from 'vue'
import FieldInput from '../../components/fields/FieldInput.vue'
import { ICONS } from '../../theme/icons'

/** The properties of a field that few fields need: default, step, length, pattern and group. */
defineProps<{ groups: readonly string[] }>()
const field = defineModel<FieldEdit>({ required: true })

const isNumber = computed(() => !field.value.link && (field.value.type === 'integer' || field.value.type === 'number'))
const isText = computed(() => field.value.type === 'string' && !field.value.format && !field.value.enum)
/** The field as a record would have it, so that its default is edited like a value. */
const asField = computed((): Field => ({
  ...field.value,
  multipleOf: field.value.multipleOf ?? null,
  minLength: field.value.minLength ?? null,
  pattern: field.value.pattern ?? null,
  group: null,
  default: null,
  label: 'Default',
  help: 'Value of a new record unless one is typed',
  required: false,
  unique: false,
  index: false,
  exclusiveMinimum: null,
  exclusiveMaximum: null,
}))
const defaultValue = computed<Value>({
  get: () => field.value.default ?? null,
  set: (value) => (field.value.default = value),
})
const settings = computed(
  () =>
    [field.value.default, field.value.multipleOf, field.value.minLength, field.value.pattern, field.value.group].filter(
      (each) => (each ?? null) !== null,
    ).length,
)
const number = (text: string | null) => (text === null || text.trim() === '' || Number.isNaN(Number(text)) ? null : Number(text))
const label = computed(() => `More properties of ${field.value.name}${settings.value > 0 ? ` (${settings.value} set)` : ''}`)
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" icon :aria-label="label" :title="label" :color="settings > 0 ? 'primary' : undefined">
        <v-icon :icon="ICONS.settings" size="18" />
      </v-btn>
    </template>
    <v-card class="pa-3 more" :title="`${field.label}: more properties`">
      <FieldInput
        v-if="!field.link"
        v-model="defaultValue"
        :field="asField"
        :label="undefined"
        :errors="[]"
        :pending="undefined"
      />
      <v-text-field
        v-if="isNumber"
        label="Step (values are multiples of it)"
        :model-value="field.multipleOf ?? ''"
        inputmode="decimal"
        placeholder="0.01"
        @change="field.multipleOf = number($event.target.value)"
      />
      <template v-if="isText">
        <v-text-field
          label="Shortest length"
          :model-value="field.minLength ?? ''"
          inputmode="numeric"
          @change="field.minLength = number($event.target.value)"
        />
        <v-text-field
          class="mono"
          label="Pattern (regular expression)"
          :model-value="field.pattern ?? ''"
          placeholder="^[A-Z]{2}$"
          @change="field.pattern = $event.target.value === '' ? null : $event.target.value"
        />
      </template>
      <v-combobox
        label="Group"
        :model-value="field.group"
        :items="[...groups]"
        clearable
        hint="Heading in the record form"
        persistent-hint
        @update:model-value="(group: string | null) => (field.group = group || null)"
      />
    </v-card>
  </v-menu>
</template>

<style scoped>
.more {
  display: grid;
  gap: 10px;
  width: 320px;
}
</style>
