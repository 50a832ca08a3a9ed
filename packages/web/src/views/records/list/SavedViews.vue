<script setup lang="ts">
import type { ListQuery, ListView, Table } from '@patient-hook/contract'
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue'
import MenuBox from '../../../components/MenuBox.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { api } from '../../../lib/api'
import { useAttempt } from '../../../lib/use-attempt'
import { useProject } from '../../../stores/project'

/** Views of the list that are kept by a name, for everybody: taken, kept, removed. */
const props = defineProps<{ table: Table; list: ListQuery }>()
const emit = defineEmits<{ take: [list: ListQuery] }>()
const project = useProject()
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
  attempt(async () => (views.value = (await api.removeListView(props.table.name, view.name)).views))
</script>

<template>
  <MenuBox ref="menu" :title="current ? current.name : 'Views'">
    <p v-if="views.length === 0" class="quiet">
      None is kept yet. A view is the search, the filter, the order and the columns of this list under a name.
    </p>
    <ul aria-label="Views of this list">
      <li v-for="view in views" :key="view.name" class="row">
        <button
          type="button"
          class="link fill name"
          :aria-current="view === current ? 'true' : undefined"
          :title="`kept by ${view.user}`"
          @click="take(view)"
        >
          {{ view.name }}
        </button>
        <button type="button" class="toggle" :disabled="busy" :aria-label="`Remove the view ${view.name}`" @click="remove(view)">
          ×
        </button>
      </li>
    </ul>
    <form class="row" @submit.prevent="keep">
      <input v-model="name" placeholder="Name of this view" aria-label="Name of this view" maxlength="60" />
      <button type="submit" class="toggle" :disabled="busy || name.trim() === ''">{{ taken ? 'Replace' : 'Keep' }}</button>
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
