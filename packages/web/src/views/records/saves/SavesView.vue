<script setup lang="ts">
import { SAVE_FILTERS, type SaveEntry } from '@patient-hook/contract'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import ListBeside from '../../../components/ListBeside.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { api } from '../../../lib/api'
import { latestOnly } from '../../../lib/latest'
import { useAttempt } from '../../../lib/use-attempt'
import { timeWord } from '../../../lib/text'
import { useProject } from '../../../stores/project'
import RecordsPage from '../RecordsPage.vue'
import FigurePanel from './FigurePanel.vue'
import SaveStory from './SaveStory.vue'
import { keyOf, msWord, NEAR, STATES } from './words'

/** The log of saves beside how the hooks are doing, or one save. */
const PAGE = 100
const WORDS: Record<(typeof SAVE_FILTERS)[number], string> = { all: 'all saves', kept: 'kept', 'not-kept': 'not kept' }
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
  <RecordsPage>
    <ListBeside label="Save" :width="300">
      <template #list>
        <div class="filters small">
          <select v-model="only" aria-label="Which saves">
            <option v-for="each in SAVE_FILTERS" :key="each" :value="each">{{ WORDS[each] }}</option>
          </select>
          <select v-model="user" aria-label="User">
            <option value="">of anybody</option>
            <option v-for="each in project.info?.users ?? []" :key="each.name" :value="each.name">{{ each.title }}</option>
          </select>
          <select v-model="table" aria-label="Table">
            <option value="">of any table</option>
            <option v-for="each in project.tables" :key="each.name" :value="each.name">{{ each.label }}</option>
          </select>
          <select v-model="hook" aria-label="Refused by">
            <option value="">whatever refused</option>
            <option v-for="each in project.hooks" :key="each.name" :value="each.name">refused by {{ each.name }}</option>
          </select>
          <button type="button" class="toggle" @click="load()">Look again</button>
        </div>
        <nav class="fill scroll" aria-label="Saves" tabindex="0">
          <router-link :to="{ name: 'saves', params: { id: '' } }" class="choice" :class="{ chosen: chosen === null }"
            >How the hooks are doing</router-link
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
              <span v-if="isNear(save)" class="copper small">near a budget</span>
              <span class="quiet small">{{ msWord(save.ms) }}</span></span
            >
            <span class="quiet small"
              >{{ timeWord(save.at) }} {{ save.user }}, {{ save.rows }} {{ save.rows === 1 ? 'row' : 'rows'
              }}{{ save.job === null ? '' : `, backfill ${save.job}` }}{{ save.error ? `: ${save.error.message}` : '' }}</span
            >
          </router-link>
          <p v-if="saves.length === 0 && !error" class="quiet small none">No such save yet.</p>
          <button v-if="more" type="button" class="toggle older" @click="load(saves.length)">Older ones</button>
        </nav>
      </template>
      <ErrorNote v-if="error" :error="error.report" />
      <FigurePanel v-if="chosen === null" @hook="((hook = $event), (only = 'not-kept'))" />
      <SaveStory v-else :id="chosen" />
    </ListBeside>
  </RecordsPage>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 6px 10px;
}
.filters select {
  max-width: 132px;
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
