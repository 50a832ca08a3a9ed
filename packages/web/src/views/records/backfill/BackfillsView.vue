<script setup lang="ts">
import type { BackfillInfo } from '@patient-hook/contract'
import { computed, onMounted, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ErrorNote from '../../../components/ErrorNote.vue'
import { api } from '../../../lib/api'
import { useAttempt } from '../../../lib/use-attempt'
import RecordsTabs from '../RecordsTabs.vue'
import BackfillDetail from './BackfillDetail.vue'
import BackfillForm from './BackfillForm.vue'
import { titleOf } from './words'

/** Backfills: those that were, and one that is put together, planned and begun. */
const route = useRoute()
const router = useRouter()
const backfills = shallowRef<readonly BackfillInfo[] | null>(null)
const { error, attempt } = useAttempt()
const chosen = computed(() => (/^\d+$/.test(String(route.params['id'] ?? '')) ? Number(route.params['id']) : null))

const load = () => attempt(async () => void (backfills.value = (await api.backfills()).backfills))
onMounted(load)
function open(id: number): void {
  void load()
  void router.push({ name: 'backfills', params: { id: String(id) } })
}
</script>

<template>
  <div class="column view">
    <RecordsTabs />
    <div class="row fill body">
      <nav class="list scroll line-r" aria-label="Backfills" tabindex="0">
        <router-link :to="{ name: 'backfills', params: { id: '' } }" class="choice" :class="{ chosen: chosen === null }"
          >New backfill</router-link
        >
        <router-link
          v-for="each in backfills ?? []"
          :key="each.id"
          :to="{ name: 'backfills', params: { id: String(each.id) } }"
          class="choice"
          :class="{ chosen: chosen === each.id }"
        >
          <span>{{ each.id }} · {{ titleOf(each) }}</span>
          <span class="quiet small">{{ each.state }}, {{ each.figures.changed }} changed</span>
        </router-link>
      </nav>
      <section class="fill scroll page" tabindex="0" aria-label="Backfill">
        <ErrorNote v-if="error" :error="error.report" />
        <BackfillForm v-if="chosen === null" @begun="open" />
        <BackfillDetail v-else :key="chosen" :id="chosen" @changed="load" @begun="open" />
      </section>
    </div>
  </div>
</template>

<style scoped>
.view {
  height: 100%;
}
.body {
  align-items: stretch;
  gap: 0;
}
.list {
  width: 230px;
  padding: 6px 0;
}
.choice {
  display: flex;
  flex-direction: column;
  padding: 4px 10px;
}
.page {
  padding: 10px 16px 20px;
}
</style>
