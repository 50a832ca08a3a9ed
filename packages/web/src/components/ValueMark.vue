<script setup lang="ts">
import type { ValueKind } from '@patient-hook/contract'
import { KIND_WORD, LETTER } from '../lib/text'

/** How a value came about: a letter and its colour, never the colour alone. */
defineProps<{ kind: ValueKind | 'refused'; title?: string }>()
const COLOURS = { typed: 'info', hook: 'copper', ripple: 'success', sequence: 'secondary', refused: 'error' } as const
</script>

<template>
  <span class="mark" :style="{ '--mark': `var(--v-theme-${COLOURS[kind]})` }" :title="title ?? KIND_WORD[kind]">{{
    LETTER[kind]
  }}</span>
</template>

<style scoped>
.mark {
  display: inline-block;
  min-width: 15px;
  height: 15px;
  line-height: 15px;
  text-align: center;
  font-size: 11px;
  font-weight: 700;
  border-radius: 3px;
  color: rgb(var(--mark));
  background: rgba(var(--mark), 0.16);
}
</style>
