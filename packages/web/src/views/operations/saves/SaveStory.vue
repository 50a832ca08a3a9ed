<script setup lang="ts">
import type { SaveStory } from '@patient-hook/contract'
import { computed, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import ChangeTable from '../../../components/ChangeTable.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { api } from '../../../lib/api'
import { useAttempt } from '../../../lib/use-attempt'
import { useHandover } from '../../../stores/handover'
import { budgetWord, msWord, NEAR, spentWords, STATES } from './words'
import UndoSave from './UndoSave.vue'
import PlainTable from '../../../components/grid/PlainTable.vue'
import MomentText from '../../../components/MomentText.vue'

/** One save: what it was given, what it wrote, what ran in it and what it cost; and the way to rehearse. */
const props = defineProps<{ id: string }>()
const emit = defineEmits<{ undone: [] }>()
const router = useRouter()
const handover = useHandover()
const story = shallowRef<SaveStory | null>(null)
const { error, attempt } = useAttempt()
const number = computed(() => Number(props.id.replace('not-kept-', '')))
const isKept = computed(() => !props.id.startsWith('not-kept-'))
watch(
  () => props.id,
  () =>
    attempt(async () => {
      story.value = null
      story.value = await (isKept.value ? api.saveStory(number.value) : api.refusedStory(number.value))
    }),
  { immediate: true },
)
function rehearse(): void {
  if (isKept.value) return void router.push({ name: 'rehearse', query: { on: `before-${number.value}` } })
  handover.give(story.value!.rows!, {})
  void router.push({ name: 'rehearse' })
}
const versions = computed(() =>
  Object.entries(story.value?.save.versions ?? {})
    .map(([plugin, version]) => `${plugin} ${version}`)
    .join(', '),
)
</script>

<template>
  <ErrorNote v-if="error" :error="error.report" />
  <article v-if="story" class="parts" aria-label="One save">
    <header class="row">
      <h2>{{ isKept ? `Save ${number}` : `A save that was ${STATES[story.save.state]}` }}</h2>
      <v-btn v-if="story.rows" variant="outlined" color="primary" @click="rehearse">Rehearse this save</v-btn>
      <span v-else class="quiet small">The input of this save is no longer stored, so it cannot be rehearsed.</span>
    </header>
    <PlainTable label="Save">
      <tbody>
        <tr>
          <th scope="row">when, who</th>
          <td>
            <MomentText :at="story.save.at" />, {{ story.save.user }}
            <router-link
              v-if="story.save.job !== null"
              class="link"
              :to="{ name: 'backfills', params: { id: String(story.save.job) } }"
              >backfill {{ story.save.job }}</router-link
            >
          </td>
        </tr>
        <tr>
          <th scope="row">given</th>
          <td>{{ story.save.rows }} {{ story.save.rows === 1 ? 'row' : 'rows' }}</td>
        </tr>
        <tr v-if="versions">
          <th scope="row">releases</th>
          <td>{{ versions }}</td>
        </tr>
        <tr>
          <th scope="row">spent</th>
          <td class="whole">
            {{ msWord(story.save.ms) }}{{ spentWords(story.save.spent) ? `, ${spentWords(story.save.spent)}` : '' }}
            <strong v-if="(story.save.share ?? 0) >= NEAR" class="copper"
              >{{ Math.round(100 * story.save.share!) }} % of its {{ budgetWord(story.save.budget!) }}</strong
            >
          </td>
        </tr>
      </tbody>
    </PlainTable>
    <ErrorNote v-if="story.save.error" :error="story.save.error" />
    <UndoSave v-if="isKept" :story="story" @undone="emit('undone')" />
    <ChangeTable v-if="story.records.length" label="Records written" :records="story.records" />
    <p v-if="story.written > story.records.length" class="quiet small">
      the first {{ story.records.length }} of {{ story.written }} records
    </p>
  </article>
</template>

<style scoped>
.whole {
  white-space: normal;
  max-width: 60ch;
}
</style>
