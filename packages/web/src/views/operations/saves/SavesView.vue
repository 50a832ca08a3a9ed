<script setup lang="ts">
import { SAVE_FILTERS, type SaveEntry } from '@patient-hook/contract'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import ListBeside from '../../../components/ListBeside.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { api } from '../../../lib/api'
import { latestOnly } from '../../../lib/latest'
import { useAttempt } from '../../../lib/use-attempt'
import { useProject } from '../../../stores/project'
import OperationsPage from '../OperationsPage.vue'
import FigurePanel from './FigurePanel.vue'
import SaveStory from './SaveStory.vue'
import { keyOf, msWord, NEAR, STATES } from './words'
import MomentText from '../../../components/MomentText.vue'

/** The log of saves beside how the hooks are doing, or one save. */
const PAGE = 100
const WORDS: Record<(typeof SAVE_FILTERS)[number], string> = { all: 'all saves', kept: 'kept', 'not-kept': 'refused or failed' }
const route = useRoute()
const project = useProject()
const chosen = computed(() => (typeof route.params['id'] === 'string' && route.params['id'] !== '' ? route.params['id'] : null))
const only = ref<(typeof SAVE_FILTERS)[number]>('all')
const user = ref('')
const table = ref('')
const hook = ref('')
const saves = shallowRef<readonly SaveEntry[]>([])
const more = ref(false)
const { error, attempt } = useAttempt()
const latest = latestOnly()
const load = (offset = 0) =>
  attempt(async () => {
    const answer = await latest(
      api.saves({
        offset,
        limit: PAGE,
        only: only.value,
        user: user.value || undefined,
        table: table.value || undefined,
        hook: hook.value || undefined,
      }),
    )
    if (!answer) return
    saves.value = offset === 0 ? answer.saves : [...saves.value, ...answer.saves]
    more.value = answer.more
  })
watch([only, user, table, hook], () => load(), { immediate: true })
const isNear = ({ share }: SaveEntry) => (share ?? 0) >= NEAR
</script>

<template>
  <OperationsPage>
    <ListBeside label="Save" :width="300">
      <template #list>
        <div class="filters small">
          <v-select
            v-model="only"
            aria-label="Which saves"
            :items="SAVE_FILTERS.map((each) => ({ value: each, title: WORDS[each] }))"
          />
          <v-select
            v-model="user"
            aria-label="User"
            :items="[
              { value: '', title: 'of any user' },
              ...(project.info?.users ?? []).map((each) => ({ value: each.name, title: each.title })),
            ]"
          />
          <v-select
            v-model="table"
            aria-label="Table"
            :items="[
              { value: '', title: 'in any table' },
              ...project.tables.map((each) => ({ value: each.name, title: each.label })),
            ]"
          />
          <v-select
            v-model="hook"
            aria-label="Refused by"
            :items="[
              { value: '', title: 'any hook' },
              ...project.hooks.map((each) => ({ value: each.name, title: `refused by ${each.name}` })),
            ]"
          />
          <v-btn variant="outlined" @click="load()">Refresh</v-btn>
        </div>
        <nav class="fill scroll" aria-label="Saves" tabindex="0">
          <router-link :to="{ name: 'saves', params: { id: '' } }" class="choice" :class="{ chosen: chosen === null }"
            >Hook performance</router-link
          >
          <router-link
            v-for="save in saves"
            :key="keyOf(save)"
            :to="{ name: 'saves', params: { id: keyOf(save) } }"
            class="choice"
            :class="{ chosen: chosen === keyOf(save) }"
          >
            <span class="row"
              ><strong :class="{ refused: save.state !== 'kept' }">{{
                save.state === 'kept' ? `save ${save.id}` : STATES[save.state]
              }}</strong>
              <span class="fill" />
              <span v-if="isNear(save)" class="copper small">close to a budget</span>
              <span class="quiet small">{{ msWord(save.ms) }}</span></span
            >
            <span class="quiet small"
              ><MomentText :at="save.at" /> {{ save.user }}, {{ save.rows }} {{ save.rows === 1 ? 'row' : 'rows'
              }}{{ save.job === null ? '' : `, backfill ${save.job}` }}{{ save.error ? `: ${save.error.message}` : '' }}</span
            >
          </router-link>
          <p v-if="saves.length === 0 && !error" class="quiet small none">No saves match.</p>
          <v-btn v-if="more" variant="outlined" class="older" @click="load(saves.length)">Load older</v-btn>
        </nav>
      </template>
      <ErrorNote v-if="error" :error="error.report" />
      <FigurePanel v-if="chosen === null" @hook="((hook = $event), (only = 'not-kept'))" />
      <SaveStory v-else :id="chosen" @undone="load()" />
    </ListBeside>
  </OperationsPage>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 6px 10px;
}
.choice {
  display: flex;
  flex-direction: column;
  padding: 3px 10px;
}
.choice .small {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.none,
.older {
  margin: 8px 10px;
}
</style>
