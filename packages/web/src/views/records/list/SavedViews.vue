<script setup lang="ts">
import type { ListQuery, ListView, Table } from '@patient-hook/contract'
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue'
import MenuBox from '../../../components/MenuBox.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { api } from '../../../lib/api'
import { useAttempt } from '../../../lib/use-attempt'
import { useNotices } from '../../../stores/notices'
import { useProject } from '../../../stores/project'
import IconButton from '../../../components/IconButton.vue'
import { ICONS } from '../../../theme/icons'

/** Views of the list that are kept by a name, for everybody: taken, kept, removed. */
const props = defineProps<{ table: Table; list: ListQuery }>()
const emit = defineEmits<{ take: [list: ListQuery] }>()
const project = useProject()
const notices = useNotices()
const views = shallowRef<readonly ListView[]>([])
const name = ref('')
const { error, busy, attempt } = useAttempt()
const menu = useTemplateRef('menu')

watch(
  () => props.table.name,
  (table) => attempt(async () => (views.value = (await api.listViews(table)).views)),
  { immediate: true },
)
const same = (one: ListQuery) => JSON.stringify(one) === JSON.stringify(props.list)
const current = computed(() => views.value.find(({ query }) => same(query)) ?? null)
const taken = computed(() => views.value.some((view) => view.name === name.value.trim()))

function take(view: ListView): void {
  emit('take', view.query)
  menu.value?.close()
}
const keep = () =>
  attempt(async () => {
    views.value = (await api.keepListView(props.table.name, name.value.trim(), props.list, project.user)).views
    name.value = ''
  })
const remove = (view: ListView) =>
  attempt(async () => {
    const { name: table } = props.table
    views.value = (await api.removeListView(table, view.name)).views
    notices.say(`Deleted view ${view.name}`, () =>
      attempt(async () => (views.value = (await api.keepListView(table, view.name, view.query, view.user)).views)),
    )
  })
</script>

<template>
  <MenuBox ref="menu" :title="current ? current.name : 'Views'">
    <p v-if="views.length === 0" class="quiet">
      No saved views yet. A view stores the search, filter, sort order and columns of this list.
    </p>
    <ul aria-label="Views of this list">
      <li v-for="view in views" :key="view.name" class="row">
        <v-btn
          class="link fill name"
          :aria-current="view === current ? 'true' : undefined"
          :title="`saved by ${view.user}`"
          @click="take(view)"
        >
          {{ view.name }}
        </v-btn>
        <IconButton :icon="ICONS.close" :label="`Delete view ${view.name}`" :disabled="busy" @click="remove(view)" />
      </li>
    </ul>
    <form class="row" @submit.prevent="keep">
      <v-text-field v-model="name" placeholder="Name of this view" aria-label="Name of this view" maxlength="60" />
      <v-btn type="submit" variant="outlined" :disabled="busy || name.trim() === ''">{{
        taken ? 'Replace view' : 'Save view'
      }}</v-btn>
    </form>
    <ErrorNote v-if="error" :error="error.report" />
  </MenuBox>
</template>

<style scoped>
ul {
  list-style: none;
}
form {
  margin-top: 6px;
}
.name {
  text-align: left;
}
.name[aria-current] {
  font-weight: 620;
}
</style>
