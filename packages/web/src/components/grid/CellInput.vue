<script setup lang="ts">
import type { Field, Value } from '@patient-hook/contract'
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import { cellText, cellValue } from '../../lib/cell-values'
import LinkInput from '../fields/LinkInput.vue'

/** One value that is typed in its cell: Enter and Tab keep it, Escape leaves it as it was. */
const props = defineProps<{
  field: Field
  value: Value
  label: string
  /** Typed in place of what is there. */ first: string | null
  /** @param key that ended it; empty where another place was gone to @returns false where it was refused */
  keep: (value: Value, key: EndKey) => Promise<boolean>
}>()
type EndKey = 'Enter' | 'Tab' | 'Shift+Tab' | ''
const emit = defineEmits<{ leave: [] }>()

const choices = computed(() =>
  props.field.type === 'boolean' ? ['yes', 'no'] : (props.field.enum?.map((choice) => cellText(choice)) ?? null),
)
const written = (value: Value) => (props.field.type === 'boolean' && value !== null ? (value ? 'yes' : 'no') : cellText(value))
const text = ref(choices.value || props.field.link || props.first === null ? written(props.value) : props.first)
const box = useTemplateRef<HTMLElement>('box')
let ended = false
/** Why what is typed cannot be kept. */
const fault = ref('')

onMounted(async () => {
  await nextTick()
  const input = box.value?.querySelector<HTMLInputElement | HTMLSelectElement>('input, select')
  input?.focus()
  if (input instanceof HTMLInputElement && props.first === null) input.select()
})
async function end(key: EndKey): Promise<void> {
  if (ended) return
  const named = box.value?.querySelector('input')?.value.trim() ?? ''
  if (props.field.link && text.value === '' && named !== '' && key !== '') {
    fault.value = `No ${props.field.link.table} record is called “${named}”. Choose one from the list.`
    return
  }
  ended = true
  if (props.field.link && text.value === '' && named !== '') return emit('leave')
  if (text.value === written(props.value)) {
    if (key === '') return emit('leave')
    return void (await props.keep(props.value, key))
  }
  const typed = props.field.link ? (text.value === '' ? null : Number(text.value)) : cellValue(props.field, text.value)
  ended = await props.keep(typed, key)
}
function onKey(event: KeyboardEvent): void {
  // The cell's own keys are not those of the list around it.
  event.stopPropagation()
  if (event.key === 'Escape') {
    ended = true
    emit('leave')
  } else if (event.key === 'Enter' || event.key === 'Tab')
    void end(event.key === 'Enter' ? 'Enter' : event.shiftKey ? 'Shift+Tab' : 'Tab')
  else return
  event.preventDefault()
}
</script>

<template>
  <span ref="box" class="cell-input" @keydown="onKey" @focusout="end('')" @mousedown.stop @click.stop @dblclick.stop>
    <select v-if="choices" v-model="text" class="cell" :aria-label="label">
      <option value="">—</option>
      <option v-for="choice in choices" :key="choice" :value="choice">{{ choice }}</option>
    </select>
    <LinkInput
      v-else-if="field.link"
      :model-value="text === '' ? null : Number(text)"
      :table="field.link.table"
      :aria-label="label"
      bare
      autofocus
      @update:model-value="text = $event === null ? '' : String($event)"
    />
    <input v-else v-model="text" class="cell" :aria-label="label" />
    <span v-if="fault" class="refused small" role="alert">{{ fault }}</span>
  </span>
</template>
