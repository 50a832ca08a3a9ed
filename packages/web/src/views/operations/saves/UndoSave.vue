<script setup lang="ts">
import type { SaveOutcome, SaveStory } from '@patient-hook/contract'
import { computed, shallowRef, watch } from 'vue'
import ChangeTable from '../../../components/ChangeTable.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import { ApiError, api } from '../../../lib/api'
import { inverseOf } from '../../../lib/inverse-save'
import { useAttempt } from '../../../lib/use-attempt'
import { useNotices } from '../../../stores/notices'
import { useProject } from '../../../stores/project'
import { ICONS } from '../../../theme/icons'

/** Undoes a save: a save that restores what it changed, through the hooks, rehearsed first. */
const props = defineProps<{ story: SaveStory }>()
const emit = defineEmits<{ undone: [] }>()
const project = useProject()
const notices = useNotices()
const { error, busy, attempt } = useAttempt()
const preview = shallowRef<SaveOutcome | null>(null)
watch(
  () => props.story,
  () => (preview.value = null),
)
const inverse = computed(() => inverseOf(props.story.records))
/** Only a save of which all records are known can be undone. */
const isWhole = computed(() => props.story.written <= props.story.records.length)
const conflicts = computed(() => preview.value?.refusals ?? [])

const look = () => attempt(async () => void (preview.value = await api.rehearse(inverse.value.rows, project.user)))
const undo = () =>
  attempt(async () => {
    const outcome = await api.save(inverse.value.rows, project.user)
    if (outcome.error) throw new ApiError(outcome.error)
    preview.value = null
    notices.say(`Undid save ${props.story.save.id}`)
    emit('undone')
  })
</script>

<template>
  <template v-if="isWhole && inverse.rows.length > 0">
    <v-btn v-if="!preview" variant="outlined" :prepend-icon="ICONS.undo" :disabled="busy" @click="look">Undo save…</v-btn>
    <section v-else aria-label="Undo save">
      <p v-for="{ table, id } in inverse.removed" :key="`${table} ${id}`" class="copper">
        {{ table }} {{ id }} was removed. It cannot be restored.
      </p>
      <template v-if="conflicts.length || preview.error">
        <p class="refused">This save cannot be undone as a whole:</p>
        <ul class="refused">
          <li v-for="(conflict, index) in conflicts" :key="index">{{ conflict.message }}</li>
        </ul>
        <ErrorNote v-if="preview.error && conflicts.length === 0" :error="preview.error" />
      </template>
      <ChangeTable
        v-else
        label="Preview of the undo"
        :records="preview.rows.filter(({ changes }) => changes.length > 0)"
        :words="['is', 'would be']"
        rehearsed
      />
      <div class="row mt-2">
        <v-btn variant="flat" color="primary" :disabled="busy || conflicts.length > 0 || preview.error !== null" @click="undo"
          >Undo save {{ story.save.id }}</v-btn
        >
        <v-btn @click="preview = null">Cancel</v-btn>
      </div>
    </section>
    <ErrorNote v-if="error" :error="error.report" />
  </template>
</template>

<style scoped>
ul {
  padding-left: 16px;
}
</style>
