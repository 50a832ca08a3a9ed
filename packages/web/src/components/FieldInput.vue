<script setup lang="ts">
import type { Field, Value } from '@patient-hook/contract'
import { computed, ref, watch } from 'vue'
import { api, type TriedGround } from '../lib/api'
import { show } from '../lib/text'

/** One field of a record as an input fit for its type; gives null when it is emptied. */
const props = defineProps<{
  field: Field
  label: string | undefined
  errors: string[]
  /** What a hook of this save would set, and which. */
  pending: { value: Value; by: string; overwrites: boolean } | undefined
  /** Where choices come from; default: the live records. */
  ground?: TriedGround
}>()
const value = defineModel<Value>({ required: true })

const text = computed({
  get: () => (value.value === null ? '' : String(value.value)),
  set: (typed: string | null) => {
    if (typed === null || typed === '') value.value = null
    else if (props.field.type === 'integer' || props.field.type === 'number')
      value.value = Number.isNaN(Number(typed)) ? typed : Number(typed)
    else value.value = typed
  },
})
const items = computed(() => (props.field.enum ?? []).map((choice) => ({ title: String(choice), value: choice })))

const search = ref('')
const choices = ref<{ title: string; value: number }[]>([])
async function look(): Promise<void> {
  if (!props.field.link) return
  const text = search.value === props.label ? '' : search.value
  const found = await api.choices(props.field.link.table, text, props.ground)
  choices.value = found.choices.map((each) => ({ title: `${each.label} (${each.id})`, value: each.id }))
  if (typeof value.value === 'number' && !choices.value.some((each) => each.value === value.value))
    choices.value.unshift({ title: `${props.label ?? props.field.link.table} (${value.value})`, value: value.value })
}
watch([search, () => props.field.name, () => props.label, () => props.ground], look, { immediate: true })

/** Dates are ISO text everywhere, whatever the browser's own way of writing them. */
const PLACEHOLDERS = { date: 'YYYY-MM-DD', 'date-time': 'YYYY-MM-DDThh:mm:ssZ' } as const
const placeholder = computed(() =>
  props.pending && !props.pending.overwrites
    ? show(props.pending.value)
    : props.field.format
      ? PLACEHOLDERS[props.field.format]
      : '',
)
const hint = computed(() => {
  if (!props.pending) return ''
  const { value: coming, by, overwrites } = props.pending
  return overwrites ? `${by} puts ${show(coming)} in its place` : `becomes ${show(coming)}, by ${by}`
})

const common = computed(() => ({
  label: props.field.label + (props.field.required ? ' *' : '') + (props.field.unique ? ' (unique)' : ''),
  errorMessages: props.errors,
  hint: hint.value || props.field.help,
  persistentHint: hint.value !== '',
  persistentPlaceholder: props.pending !== undefined,
  placeholder: placeholder.value,
  name: props.field.name,
}))
</script>

<template>
  <v-select v-if="field.enum" v-model="value" v-bind="common" :items="items" clearable />
  <v-autocomplete
    v-else-if="field.link"
    v-model="value"
    v-model:search="search"
    v-bind="common"
    :items="choices"
    no-filter
    clearable
  />
  <v-select
    v-else-if="field.type === 'boolean'"
    v-model="value"
    v-bind="common"
    :items="[
      { title: 'yes', value: true },
      { title: 'no', value: false },
    ]"
    clearable
  />
  <v-text-field v-else v-model="text" v-bind="common" :inputmode="field.type === 'string' ? 'text' : 'decimal'" />
</template>
