<script setup lang="ts">
import { MESSAGE_STATES, type Letter, type MessageState, type OutboxMessage, type OutboxPage } from '@patient-hook/contract'
import { computed, ref, shallowRef, watch } from 'vue'
import EmptyState from '../../../components/EmptyState.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import PanelSwitch from '../../../components/PanelSwitch.vue'
import { api } from '../../../lib/api'
import { latestOnly } from '../../../lib/latest'
import { useAttempt } from '../../../lib/use-attempt'
import { timeWord } from '../../../lib/times'
import OperationsPage from '../OperationsPage.vue'
import MessageBody from './MessageBody.vue'
import MomentText from '../../../components/MomentText.vue'

/** Messages that saves sent, on their way out; and what the post room received, as the one they are for would read it. */
const PAGE = 100
const PANELS = { out: 'Outbox', in: 'Test inbox' } as const
const panel = ref<keyof typeof PANELS>('out')
const only = ref<MessageState | ''>('')
const WORDS: Record<MessageState, string> = { waiting: 'waiting', delivered: 'delivered', 'given-up': 'given up' }
const page = shallowRef<OutboxPage | null>(null)
const letters = shallowRef<{ total: number; letters: readonly Letter[] } | null>(null)
const limit = ref(PAGE)
const { error, busy, attempt } = useAttempt()
const latest = latestOnly()
const load = () =>
  attempt(async () => {
    if (panel.value === 'in') return void (letters.value = await api.postRoom(limit.value))
    const answer = await latest(api.outbox({ limit: limit.value, only: only.value || undefined }))
    if (answer) page.value = answer
  })
watch([panel, only], () => ((limit.value = PAGE), load()), { immediate: true })
const more = () => ((limit.value += PAGE), load())
const act = (work: Promise<OutboxMessage>) =>
  attempt(async () => {
    await work
    await load()
  })
const counts = computed(() => page.value?.counts)
const total = computed(() => (panel.value === 'in' ? letters.value?.total : page.value?.total) ?? 0)

function stateOf(message: OutboxMessage): string {
  if (message.delivered) return `delivered ${timeWord(message.delivered)}`
  if (message.given_up) return `given up ${timeWord(message.given_up)}`
  return message.failure ? 'failed, waits for the next try' : 'waiting'
}
</script>

<template>
  <OperationsPage>
    <div class="row bar line-b small">
      <PanelSwitch v-model="panel" :panels="PANELS" label="Outbox or test inbox" />
      <template v-if="panel === 'out'">
        <v-select
          v-model="only"
          aria-label="Which messages"
          :items="[{ value: '', title: 'all messages' }, ...MESSAGE_STATES.map((each) => ({ value: each, title: WORDS[each] }))]"
        />
        <span v-if="counts" data-test="counts"
          >{{ counts.waiting }} waiting{{ counts.failed > 0 ? `, ${counts.failed} of them failed` : '' }},
          {{ counts.delivered }} delivered, {{ counts['given-up'] }} given up</span
        >
      </template>
      <span v-else class="quiet">a local stand-in for mail and other services. Messages are stored in post-room.jsonl</span>
      <span class="fill" />
      <v-btn variant="outlined" @click="load">Refresh</v-btn>
    </div>
    <ErrorNote v-if="error" :error="error.report" />
    <div class="fill scroll list" tabindex="0" :aria-label="PANELS[panel]">
      <EmptyState v-if="total === 0 && !busy && !error" :title="panel === 'in' ? 'The test inbox is empty' : 'No messages'">
        After-save hooks send messages with <code>send(channel, message)</code>. A message goes out after its save commits.
      </EmptyState>
      <template v-if="panel === 'out'">
        <article v-for="message in page?.messages ?? []" :key="message.id" class="message" :aria-label="`Message ${message.id}`">
          <header class="row small">
            <strong>{{ message.channel }}</strong>
            <span :class="{ refused: message.failure && !message.delivered, quiet: message.delivered }">{{
              stateOf(message)
            }}</span>
            <span class="quiet"
              ><MomentText :at="message.at" />,
              <router-link class="link" :to="{ name: 'saves', params: { id: String(message.save) } }"
                >save {{ message.save }}</router-link
              >, {{ message.hook }}</span
            >
            <span class="fill" />
            <template v-if="!message.delivered">
              <v-btn variant="outlined" :disabled="busy" @click="act(api.retryMessage(message.id))">Try now</v-btn>
              <v-btn v-if="!message.given_up" variant="outlined" :disabled="busy" @click="act(api.giveUpMessage(message.id))">
                Give up
              </v-btn>
            </template>
          </header>
          <p v-if="message.failure && !message.delivered" class="refused small">
            {{ message.failure }}
            <span class="quiet"
              >({{ message.tries }} {{ message.tries === 1 ? 'try' : 'tries'
              }}{{ message.next_try ? `, next at ${message.next_try.slice(11, 19)}` : '' }})</span
            >
          </p>
          <MessageBody :payload="message.payload" />
        </article>
      </template>
      <template v-else>
        <article v-for="(letter, at) in letters?.letters ?? []" :key="at" class="message" :aria-label="`Letter ${letter.id}`">
          <header class="row small">
            <strong>{{ letter.channel }}</strong>
            <span class="quiet"
              ><MomentText :at="letter.at" />,
              <router-link class="link" :to="{ name: 'saves', params: { id: String(letter.save) } }"
                >save {{ letter.save }}</router-link
              ></span
            >
          </header>
          <MessageBody :payload="letter.payload" />
        </article>
      </template>
      <v-btn v-if="total > limit" variant="outlined" @click="more">Load older</v-btn>
    </div>
  </OperationsPage>
</template>

<style scoped>
.bar {
  padding: 4px 10px;
}
.list {
  padding: 8px 14px 16px;
}
.message {
  max-width: 860px;
  padding: 6px 0;
  border-bottom: 1px solid rgb(var(--v-theme-line));
}
</style>
