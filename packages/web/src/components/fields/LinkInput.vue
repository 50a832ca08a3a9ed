<script setup lang="ts">
import type { Choice, Value } from '@patient-hook/contract'
import { ref, shallowRef, watch } from 'vue'
import { api, type TriedGround } from '../../lib/api'
import { latestOnly } from '../../lib/latest'
import { ICONS } from '../../theme/icons'

/** A record of another table, found on the server by what people call it or by its id, and opened from here. */
const props = defineProps<{
  table: string
  /** What the record that is linked to is called, where it is known. */
  known?: string | undefined
  /** Where choices come from; default: the live records. */
  ground?: TriedGround
  /** No way to open it, where there is no room. */
  bare?: boolean
}>()
defineOptions({ inheritAttrs: false })
const id = defineModel<Value>({ required: true })

const search = ref('')
const choices = shallowRef<{ title: string; value: number }[]>([])
const wordOf = ({ id, label }: Choice) => ({ title: `${label} (${id})`, value: id })
const latest = latestOnly()
async function look(): Promise<void> {
  const chosen = choices.value.find((each) => each.value === id.value)
  const isChosen = search.value === chosen?.title || search.value === props.known
  // The one that is linked to is found by its id as long as nothing else is typed.
  const text = isChosen ? '' : search.value === '' && typeof id.value === 'number' && !chosen ? String(id.value) : search.value
  const answer = await latest(api.choices(props.table, text, props.ground))
  if (!answer) return
  const found = answer.choices.map(wordOf)
  const here = found.find((each) => each.value === id.value) ?? chosen
  if (here && !found.includes(here)) found.unshift(here)
  else if (!here && typeof id.value === 'number')
    found.unshift({ title: `${props.known ?? props.table} (${id.value})`, value: id.value })
  choices.value = found
}
watch([search, id, () => props.table, () => props.known, () => props.ground], look, { immediate: true })
</script>

<template>
  <v-autocomplete
    v-bind="$attrs"
    v-model="id"
    v-model:search="search"
    :items="choices"
    no-filter
    clearable
    placeholder="name or id"
  >
    <template v-if="!bare && typeof id === 'number' && ground === undefined" #append-inner>
      <router-link
        :to="{ name: 'records', params: { table, id: String(id) } }"
        class="d-flex"
        :aria-label="`Open ${table} ${id}`"
        :title="`Open ${table} ${id}`"
        @mousedown.stop
        @click.stop
      >
        <v-icon :icon="ICONS.follow" size="16" />
      </router-link>
    </template>
  </v-autocomplete>
</template>
