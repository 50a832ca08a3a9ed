<script setup lang="ts">
import type { ArgumentShape } from '@patient-hook/core/language'
import { computed, ref } from 'vue'
import { firstValue } from '../../../lib/argument-values'
import IconButton from '../../../components/IconButton.vue'
import { ICONS } from '../../../theme/icons'

/** An input for a value of a type: itself again for items and fields within it. */
const props = defineProps<{ shape: ArgumentShape; label: string }>()
const value = defineModel<unknown>({ required: true })

const list = computed(() => (Array.isArray(value.value) ? (value.value as unknown[]) : []))
const record = computed(() => (value.value ?? {}) as Record<string, unknown>)
const pairs = computed(() => list.value as [unknown, unknown][])
const putItem = (at: number, item: unknown) => (value.value = list.value.map((each, index) => (index === at ? item : each)))
const takeOut = (at: number) => (value.value = list.value.filter((_, index) => index !== at))
function add(): void {
  const { kind, of, key } = props.shape
  if (of) value.value = [...list.value, kind === 'map' && key ? [firstValue(key), firstValue(of)] : firstValue(of)]
}
function putField(name: string, field: unknown): void {
  const { [name]: _, ...others } = record.value
  value.value = field === undefined ? others : { ...record.value, [name]: field }
}
function typeNumber(text: string): void {
  const number = Number(text)
  value.value = text.trim() === '' ? null : Number.isNaN(number) ? text : number
}
const setNull = (isNull: boolean) => (value.value = isNull ? null : firstValue(props.shape))

/** JSON as it is typed: taken over whenever it can be read. */
const json = ref(JSON.stringify(value.value))
const unread = ref(false)
function typeJson(text: string): void {
  json.value = text
  try {
    value.value = JSON.parse(text) as unknown
    unread.value = false
  } catch {
    unread.value = true
  }
}
</script>

<template>
  <span class="argument">
    <v-checkbox
      v-if="shape.nullable"
      class="small quiet"
      :model-value="value === null"
      :aria-label="`${label} is null`"
      @update:model-value="setNull(!!$event)"
      label="null"
    />
    <template v-if="value === null && shape.nullable" />
    <v-text-field
      v-else-if="shape.kind === 'number'"
      inputmode="decimal"
      :model-value="value"
      :aria-label="label"
      @update:model-value="typeNumber($event)"
    />
    <v-text-field
      v-else-if="shape.kind === 'text'"
      :model-value="value"
      :aria-label="label"
      @update:model-value="value = $event"
    />
    <v-select
      v-else-if="shape.kind === 'boolean'"
      :model-value="String(value)"
      :aria-label="label"
      @update:model-value="value = $event === 'true'"
      :items="[
        { value: 'false', title: 'false' },
        { value: 'true', title: 'true' },
      ]"
    />
    <v-select
      v-else-if="shape.kind === 'choice'"
      :model-value="(shape.choices ?? []).findIndex((each) => each === value)"
      :aria-label="label"
      @update:model-value="value = shape.choices![Number($event)]"
      :items="(shape.choices ?? []).map((choice, at) => ({ value: at, title: choice }))"
    />
    <span v-else-if="shape.kind === 'list' || shape.kind === 'set'" class="items">
      <span v-for="(item, at) in list" :key="at" class="item">
        <ArgumentInput
          :model-value="item"
          :shape="shape.of!"
          :label="`${label} ${at + 1}`"
          @update:model-value="(next: unknown) => putItem(at, next)"
        />
        <IconButton :icon="ICONS.close" :label="`Remove ${label} ${at + 1}`" @click="takeOut(at)" />
      </span>
      <v-btn class="add" :aria-label="`Add to ${label}`" @click="add">+</v-btn>
    </span>
    <span v-else-if="shape.kind === 'map'" class="items">
      <span v-for="(pair, at) in pairs" :key="at" class="item">
        <ArgumentInput
          :model-value="pair[0]"
          :shape="shape.key!"
          :label="`${label} key ${at + 1}`"
          @update:model-value="(next: unknown) => putItem(at, [next, pair[1]])"
        />
        →
        <ArgumentInput
          :model-value="pair[1]"
          :shape="shape.of!"
          :label="`${label} value ${at + 1}`"
          @update:model-value="(next: unknown) => putItem(at, [pair[0], next])"
        />
        <IconButton :icon="ICONS.close" :label="`Remove ${label} ${at + 1}`" @click="takeOut(at)" />
      </span>
      <v-btn class="add" :aria-label="`Add to ${label}`" @click="add">+</v-btn>
    </span>
    <span v-else-if="shape.kind === 'record'" class="fields">
      <span v-for="field in shape.fields" :key="field.name" class="item">
        <span class="mono small">{{ field.name }}</span>
        <v-checkbox
          v-if="field.optional"
          class="small quiet"
          :model-value="record[field.name] === undefined"
          :aria-label="`${label}.${field.name} is left out`"
          @update:model-value="putField(field.name, !!$event ? undefined : firstValue(field.shape))"
          label="left out"
        />
        <ArgumentInput
          v-if="record[field.name] !== undefined"
          :model-value="record[field.name]"
          :shape="field.shape"
          :label="`${label}.${field.name}`"
          @update:model-value="(next: unknown) => putField(field.name, next)"
        />
      </span>
    </span>
    <span v-else-if="shape.kind === 'json'">
      <v-text-field class="mono" :model-value="json" :aria-label="`${label} as JSON`" @update:model-value="typeJson($event)" />
      <span v-if="unread" class="refused small"> not valid JSON yet</span>
    </span>
    <span v-else class="quiet small">has no form editor</span>
  </span>
</template>

<style scoped>
.argument {
  display: inline-flex;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 6px;
}
.items,
.fields {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 10px;
}
.item {
  display: inline-flex;
  align-items: baseline;
  gap: 4px;
}
.fields {
  border-left: 2px solid rgb(var(--v-theme-line));
  padding-left: 8px;
}
.add,
.out {
  color: rgb(var(--v-theme-primary));
  border: 1px solid rgb(var(--v-theme-line));
  border-radius: 3px;
  padding: 0 6px;
}
</style>
