<script setup lang="ts">
import type { ArgumentShape } from '@patient-hook/core/language'
import { computed, ref } from 'vue'
import { firstValue } from '../../../lib/argument-values'

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
    <label v-if="shape.nullable" class="small quiet"
      ><input
        type="checkbox"
        :checked="value === null"
        :aria-label="`${label} is null`"
        @change="setNull(($event.target as HTMLInputElement).checked)"
      />
      null</label
    >
    <template v-if="value === null && shape.nullable" />
    <input
      v-else-if="shape.kind === 'number'"
      type="search"
      inputmode="decimal"
      :value="value"
      :aria-label="label"
      @input="typeNumber(($event.target as HTMLInputElement).value)"
    />
    <input
      v-else-if="shape.kind === 'text'"
      type="search"
      :value="value"
      :aria-label="label"
      @input="value = ($event.target as HTMLInputElement).value"
    />
    <select
      v-else-if="shape.kind === 'boolean'"
      :value="String(value)"
      :aria-label="label"
      @change="value = ($event.target as HTMLSelectElement).value === 'true'"
    >
      <option value="false">false</option>
      <option value="true">true</option>
    </select>
    <select
      v-else-if="shape.kind === 'choice'"
      :value="(shape.choices ?? []).findIndex((each) => each === value)"
      :aria-label="label"
      @change="value = shape.choices![Number(($event.target as HTMLSelectElement).value)]"
    >
      <option v-for="(choice, at) in shape.choices" :key="at" :value="at">{{ choice }}</option>
    </select>
    <span v-else-if="shape.kind === 'list' || shape.kind === 'set'" class="items">
      <span v-for="(item, at) in list" :key="at" class="item">
        <ArgumentInput
          :model-value="item"
          :shape="shape.of!"
          :label="`${label} ${at + 1}`"
          @update:model-value="(next: unknown) => putItem(at, next)"
        />
        <button type="button" class="out" :aria-label="`Take ${label} ${at + 1} out`" @click="takeOut(at)">×</button>
      </span>
      <button type="button" class="add small" :aria-label="`One more of ${label}`" @click="add">+</button>
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
        <button type="button" class="out" :aria-label="`Take ${label} ${at + 1} out`" @click="takeOut(at)">×</button>
      </span>
      <button type="button" class="add small" :aria-label="`One more of ${label}`" @click="add">+</button>
    </span>
    <span v-else-if="shape.kind === 'record'" class="fields">
      <span v-for="field in shape.fields" :key="field.name" class="item">
        <span class="mono small">{{ field.name }}</span>
        <label v-if="field.optional" class="small quiet"
          ><input
            type="checkbox"
            :checked="record[field.name] === undefined"
            :aria-label="`${label}.${field.name} is left out`"
            @change="putField(field.name, ($event.target as HTMLInputElement).checked ? undefined : firstValue(field.shape))"
          />
          left out</label
        >
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
      <input
        type="search"
        class="mono"
        :value="json"
        :aria-label="`${label} as JSON`"
        @input="typeJson(($event.target as HTMLInputElement).value)"
      />
      <span v-if="unread" class="refused small"> not JSON yet</span>
    </span>
    <span v-else class="quiet small">cannot be typed in</span>
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
input[inputmode='decimal'] {
  width: 96px;
}
.add,
.out {
  color: rgb(var(--v-theme-primary));
  border: 1px solid rgb(var(--v-theme-line));
  border-radius: 3px;
  padding: 0 6px;
}
</style>
