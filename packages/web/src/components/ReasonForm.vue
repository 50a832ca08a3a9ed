<script setup lang="ts">
import { ref } from 'vue'

/** Accepts an exception, once a reason is given. */
defineProps<{ word: string; label: string; busy?: boolean }>()
const emit = defineEmits<{ accept: [reason: string] }>()
const open = ref(false)
const reason = ref('')
function accept(): void {
  if (reason.value.trim() === '') return
  emit('accept', reason.value.trim())
  open.value = false
}
</script>

<template>
  <v-btn v-if="!open" @click="open = true">{{ word }}…</v-btn>
  <v-form v-else class="reason" :aria-label="label" @submit.prevent="accept" @keydown.esc="open = false">
    <v-text-field v-model="reason" autofocus :label="label" placeholder="Why this is right" />
    <v-btn variant="outlined" color="primary" type="submit" :disabled="reason.trim() === '' || busy">{{ word }}</v-btn>
    <v-btn @click="open = false">Cancel</v-btn>
  </v-form>
</template>

<style scoped>
.reason {
  display: flex;
  gap: 6px;
  align-items: center;
  max-width: 620px;
  margin-top: 6px;
}
</style>
