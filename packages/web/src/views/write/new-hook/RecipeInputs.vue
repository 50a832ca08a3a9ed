<script setup lang="ts">
import { choicesFor, type Recipe, type RecipeInput, type RecipeRequest } from '@patient-hook/core/recipes'

/** The inputs of a recipe; the choices of one depend on the answers before it. */
const props = defineProps<{ recipe: Recipe; request: RecipeRequest }>()
const emit = defineEmits<{ answer: [name: string, value: string | string[]] }>()

const choices = (input: RecipeInput) => choicesFor(input, props.request)
const noChoice = (input: RecipeInput) =>
  choices(input)?.length === 0 && !input.of ? `${props.request.table.label} has no field that suits.` : undefined
</script>

<template>
  <template v-for="input in recipe.inputs" :key="input.name">
    <v-autocomplete
      v-if="choices(input)"
      :model-value="request.answers[input.name] ?? (input.kind === 'fields' ? [] : null)"
      :label="input.label"
      :items="choices(input)!"
      :multiple="input.kind === 'fields'"
      :chips="input.kind === 'fields'"
      :clearable="input.optional"
      :hint="noChoice(input)"
      persistent-hint
      @update:model-value="(value: string | readonly string[]) => emit('answer', input.name, [value ?? []].flat())"
    />
    <v-text-field
      v-else
      :model-value="request.answers[input.name] ?? ''"
      :label="input.label"
      @update:model-value="(value: string) => emit('answer', input.name, value)"
    />
  </template>
</template>
