<script setup lang="ts">
import type { ErrorReport, Place, RowOut } from '@patient-hook/contract'
import { isSet, KIND_WORD, show } from '../../lib/text'

/** What is known of one cell of the effect sheet: from → to, who did it, at which line, and the problems with it. */

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
  <div class="detail line-t small" role="status" aria-label="Selected cell">
    <span class="mono">{{ cell }}</span>
    <template v-if="change">
      <span
        >{{ show(change.from) }} → <strong>{{ show(change.to) }}</strong>,
        {{ isSet(change) ? KIND_WORD[change.kind] : 'removed with its record' }}</span
      >
      <v-btn v-if="isSet(change) && change.by !== 'typed'" class="link" @click="emit('pick', change.by)">
        {{ change.by }}
      </v-btn>
      <v-btn v-if="change.at" class="link" @click="emit('place', change.at)">
        {{ change.at.file.replace(/^.*\//, '') }}, line {{ change.at.line }}
      </v-btn>
    </template>
    <template v-else>unchanged</template>
    <span v-if="change?.overwrites !== undefined">{{ show(change.overwrites) }} was typed, then replaced</span>
    <span v-if="rippled"
      >then {{ KIND_WORD.ripple }} to <strong>{{ show(rippled.to) }}</strong> by
      <v-btn class="link" @click="emit('pick', rippled.by)">{{ rippled.by }}</v-btn></span
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
