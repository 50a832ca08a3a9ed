<script setup lang="ts">
import type { RowOut } from '@patient-hook/contract'
import { isSet, KIND_WORD, LETTER } from '../lib/text'

/** How a value came about, as a letter; nothing where it went with its record. */

defineProps<{ change: RowOut['changes'][number] }>()
</script>

<template>
  <span v-if="isSet(change)" class="kind" :class="`kind-${change.kind}`" :title="KIND_WORD[change.kind]">{{
    LETTER[change.kind]
  }}</span>
</template>
