<script setup lang="ts">
import type { ErrorReport, Place, RowOut } from '@patient-hook/contract'
import { isSet, KIND_WORD, show } from '../../lib/text'

/** What is known of one cell of the effect sheet: from → to, who did it, at which line, and what stands against it. */

defineProps<{
  /** `lot 3.bay` */
  cell: string
  change: RowOut['changes'][number] | undefined
  refusals: readonly ErrorReport[]
  /** A ripple of the same save that puts another value in its place. */
  rippled: RowOut['changes'][number] | undefined
}>()
const emit = defineEmits<{ pick: [hook: string]; place: [place: Place] }>()
</script>

<template>
  <div class="detail line-t small" role="status" aria-label="The chosen cell">
    <span class="mono">{{ cell }}</span>
    <template v-if="change">
      <span
        >{{ show(change.from) }} → <strong>{{ show(change.to) }}</strong>,
        {{ isSet(change) ? KIND_WORD[change.kind] : 'gone with its record' }}</span
      >
      <button v-if="isSet(change) && change.by !== 'typed'" type="button" class="link" @click="emit('pick', change.by)">
        {{ change.by }}
      </button>
      <button v-if="change.at" type="button" class="link" @click="emit('place', change.at)">
        {{ change.at.file.replace(/^.*\//, '') }}, line {{ change.at.line }}
      </button>
    </template>
    <template v-else>unchanged</template>
    <span v-if="change?.overwrites !== undefined">{{ show(change.overwrites) }} was typed, and does not stand</span>
    <span v-if="rippled"
      >then {{ KIND_WORD.ripple }} to <strong>{{ show(rippled.to) }}</strong> by
      <button type="button" class="link" @click="emit('pick', rippled.by)">{{ rippled.by }}</button></span
    >
    <span v-for="(refusal, index) in refusals" :key="index" class="refused">× {{ refusal.message }}</span>
  </div>
</template>

<style scoped>
.detail {
  display: flex;
  gap: 10px;
  padding: 5px 12px;
  flex-wrap: wrap;
}
.link {
  text-decoration: underline;
  color: rgb(var(--v-theme-primary));
}
</style>
