<script setup lang="ts">
import type { CodeChange, CodePlan } from '@patient-hook/contract'
import { computed, shallowRef, watch } from 'vue'
import { api } from '../lib/api'
import { latestOnly } from '../lib/latest'
import { useAttempt } from '../lib/use-attempt'
import { useDrafts } from '../stores/drafts'
import ErrorNote from './ErrorNote.vue'

/** A change of names and places in the code: a preview of the files, then one step. */
const props = defineProps<{
  change: CodeChange
  word: string
  /** Called when it is done, also where what this is in has gone with it. */
  done: () => Promise<void>
}>()
const emit = defineEmits<{ cancel: [] }>()
const drafts = useDrafts()
const plan = shallowRef<CodePlan | null>(null)
const { error, busy, attempt } = useAttempt()
/** A user who types a name changes it letter by letter: only the last answer counts. */
const latest = latestOnly()

const key = computed(() => JSON.stringify(props.change))
watch(
  key,
  async () => {
    const answer = await attempt(() => latest(api.planCode(props.change, drafts.drafts)))
    if (answer !== null) plan.value = answer ?? null
  },
  { immediate: true },
)

const apply = () =>
  attempt(async () => {
    if (!plan.value) return
    const { done } = props
    await drafts.replace(plan.value.files, plan.value.from)
    await done()
  })
</script>

<template>
  <div class="plan small" role="group" :aria-label="word">
    <ErrorNote v-if="error" :error="error.report" />
    <template v-if="plan">
      <ul>
        <li v-for="step in plan.steps" :key="step">{{ step }}</li>
      </ul>
      <ul v-if="plan.notices.length" class="copper">
        <li v-for="notice in plan.notices" :key="notice">{{ notice }}</li>
      </ul>
    </template>
    <div class="row">
      <v-btn size="small" variant="flat" color="primary" :disabled="!plan || busy" @click="apply">{{ word }}</v-btn>
      <v-btn size="small" @click="emit('cancel')">Cancel</v-btn>
    </div>
  </div>
</template>

<style scoped>
.plan {
  display: grid;
  gap: 6px;
  padding: 6px 0;
  overflow-wrap: anywhere;
}
ul {
  padding-left: 16px;
}
</style>
