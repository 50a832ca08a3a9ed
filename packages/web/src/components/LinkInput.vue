<script setup lang="ts">
import type { Choice } from '@patient-hook/contract'
import { useId } from 'vue'
import { ref, shallowRef, watch } from 'vue'
import { api } from '../lib/api'
import { latestOnly } from '../lib/latest'

/** The id of a record, found by what people call it. */
const props = defineProps<{ table: string; label: string }>()
/** The id as text; empty as long as none is chosen. */
const id = defineModel<string>({ required: true })
const typed = ref(id.value)
const choices = shallowRef<readonly Choice[]>([])
const list = useId()
const word = ({ id, label }: Choice) => `${label} (${id})`

const latest = latestOnly()
async function look(): Promise<void> {
  const text = typed.value.replace(/\s*\(\d+\)$/, '')
  const answer = await latest(api.choices(props.table, text))
  if (!answer) return
  choices.value = answer.choices
  const known = answer.choices.find((each) => String(each.id) === id.value)
  if (known && typed.value === id.value) typed.value = word(known)
}
watch(typed, look, { immediate: true })
watch(typed, (text) => {
  const chosen = /\((\d+)\)$/.exec(text)?.[1] ?? (/^\d+$/.test(text) ? text : '')
  if (chosen !== id.value) id.value = chosen
})
</script>

<template>
  <input v-model="typed" :list="list" :aria-label="label" placeholder="name or id" />
  <datalist :id="list">
    <option v-for="each in choices" :key="each.id" :value="word(each)" />
  </datalist>
</template>
