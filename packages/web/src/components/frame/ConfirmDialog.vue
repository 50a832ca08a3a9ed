<script setup lang="ts">
import { useConfirmation } from '../../stores/confirmation'

/** Asks before something is destroyed. */
const confirmation = useConfirmation()
</script>

<template>
  <v-dialog
    :model-value="confirmation.question !== null"
    max-width="440"
    :aria-label="confirmation.question?.title"
    @update:model-value="confirmation.answer(false)"
  >
    <v-card v-if="confirmation.question" :title="confirmation.question.title">
      <v-card-text>{{ confirmation.question.text }}</v-card-text>
      <v-card-actions>
        <v-btn autofocus @click="confirmation.answer(false)">Cancel</v-btn>
        <v-btn variant="flat" color="error" @click="confirmation.answer(true)">{{ confirmation.question.action }}</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>
