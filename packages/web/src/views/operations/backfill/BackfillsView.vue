<script setup lang="ts">
import type { BackfillInfo } from '@patient-hook/contract'
import { computed, onMounted, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ErrorNote from '../../../components/ErrorNote.vue'
import ListBeside from '../../../components/ListBeside.vue'
import { api } from '../../../lib/api'
import { useAttempt } from '../../../lib/use-attempt'
import OperationsPage from '../OperationsPage.vue'
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
  <OperationsPage>
    <ListBeside label="Backfill" :width="230">
      <template #list
        ><nav class="list fill scroll" aria-label="Backfills" tabindex="0">
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
        </nav></template
      >
      <ErrorNote v-if="error" :error="error.report" />
      <BackfillForm v-if="chosen === null" @begun="open" />
      <BackfillDetail v-else :key="chosen" :id="chosen" @changed="load" @begun="open" />
    </ListBeside>
  </OperationsPage>
</template>

<style scoped>
.list {
  padding: 6px 0;
}
.choice {
  display: flex;
  flex-direction: column;
  padding: 4px 10px;
}
</style>
