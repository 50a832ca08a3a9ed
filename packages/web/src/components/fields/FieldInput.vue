<script setup lang="ts">
import type { Field, Value } from '@patient-hook/contract'
import { computed } from 'vue'
import type { TriedGround } from '../../lib/api'
import { show } from '../../lib/text'
import DateInput from './DateInput.vue'
import DateTimeInput from './DateTimeInput.vue'
import LinkInput from './LinkInput.vue'

/** One field of a record in the editor of its kind; gives null when it is emptied. */
const props = defineProps<{
  field: Field
  /** What the record that it links to is called. */
  label: string | undefined
  errors: string[]
  /** What a hook of this save would set, and which. */
  pending: { value: Value; by: string; overwrites: boolean } | undefined
  /** Where choices come from; default: the live records. */
  ground?: TriedGround
}>()
const value = defineModel<Value>({ required: true })

const isNumber = computed(() => props.field.type === 'integer' || props.field.type === 'number')
/** From this length on, several lines are shown. */
const LONG = 200
const isLong = computed(() => props.field.type === 'string' && (props.field.maxLength ?? 0) >= LONG)
const text = computed({
  get: () => (value.value === null ? '' : String(value.value)),
  set: (typed: string | null) => {
    if (typed === null || typed === '') value.value = null
    else if (isNumber.value) value.value = Number.isNaN(Number(typed)) ? typed : Number(typed)
    else value.value = typed
  },
})
const choices = computed(() => {
  if (props.field.type !== 'boolean') return props.field.enum?.map((choice) => ({ title: String(choice), value: choice }))
  return [
    { title: 'yes', value: true },
    { title: 'no', value: false },
  ]
})
const hint = computed(() => {
  if (!props.pending) return ''
  const { value: coming, by, overwrites } = props.pending
  return overwrites ? `${by} replaces this with ${show(coming)}` : `set to ${show(coming)} by ${by}`
})
const common = computed(() => ({
  label: props.field.label + (props.field.required ? ' *' : '') + (props.field.unique ? ' (unique)' : ''),
  errorMessages: props.errors,
  hint: hint.value || props.field.help,
  persistentHint: hint.value !== '',
  persistentPlaceholder: props.pending !== undefined,
  name: props.field.name,
  ...(props.pending && !props.pending.overwrites ? { placeholder: show(props.pending.value) } : {}),
}))
</script>

<template>
  <v-autocomplete v-if="choices" v-model="value" v-bind="common" :items="choices" clearable auto-select-first />
  <LinkInput v-else-if="field.link" v-model="value" v-bind="common" :table="field.link.table" :known="label" :ground="ground" />
  <DateInput v-else-if="field.format === 'date'" v-model="value" v-bind="common" />
  <DateTimeInput v-else-if="field.format === 'date-time'" v-model="value" v-bind="common" />
  <v-textarea v-else-if="isLong" v-model="text" v-bind="common" rows="2" auto-grow max-rows="8" />
  <v-text-field v-else v-model="text" v-bind="common" :inputmode="isNumber ? 'decimal' : 'text'" />
</template>
