<script setup lang="ts">
import type { KeepTest as KeepTestWish, Table } from '@patient-hook/contract'
import { Pane } from 'splitpanes'
import { computed, ref, watch } from 'vue'
import { useEventListener } from '@vueuse/core'
import { useRoute, useRouter } from 'vue-router'
import EmptyState from '../../components/EmptyState.vue'
import DocumentForm from '../../components/document/DocumentForm.vue'
import KeepTest from '../../components/KeepTest.vue'
import ErrorNote from '../../components/ErrorNote.vue'
import PathRibbon from '../../components/PathRibbon.vue'
import SplitBox from '../../components/SplitBox.vue'
import { ApiError, api } from '../../lib/api'
import { countSave, type Station } from '../../lib/path-counts'
import { useHandover } from '../../stores/handover'
import { useHooks } from '../../stores/hooks'
import { useProject } from '../../stores/project'
import RecordChooser from '../../components/RecordChooser.vue'
import RunPanel from './RunPanel.vue'
import { useRehearsal } from './use-rehearsal'

/** A save that is not kept: its rows at the left, and below them what happened, from top to bottom. */
const route = useRoute()
const router = useRouter()
const project = useProject()
const hooks = useHooks()
const state = useRehearsal()
const { ground, clock, partial, rows, run, error, busy } = state

const table = ref(
  typeof route.params['table'] === 'string' && route.params['table'] ? route.params['table'] : (project.tables[0]?.name ?? ''),
)
const station = ref<Station | null>(null)
/** What the run is of, to tell it from another. */
const about = computed(() => `${rows.value.map((row) => `${row.table} ${row.id ?? '(new)'}`).join(', ')}, as ${project.user}`)
const keeping = ref(false)
const keepTest = (wish: KeepTestWish) => api.keepTest({ ...state.asked.value, ...wish })
const keptFile = ref<string | null>(null)

/** The address says where: a fixture set, `live`, or `before-12`. */
const asked = typeof route.query['on'] === 'string' ? route.query['on'] : null
const askedSave = Number(/^before-(\d+)$/.exec(asked ?? '')?.[1] ?? 0)
if (asked !== null) ground.value = askedSave ? { before: askedSave } : asked === 'live' ? {} : { fixtures: asked }
const groundWord = computed(() => {
  const { fixtures, before } = ground.value
  return fixtures ?? (before === undefined ? 'live' : `before-${before}`)
})
const openSave = (save: number) => attempt(() => state.openSave(save))
async function attempt(work: () => Promise<void>): Promise<void> {
  try {
    await work()
  } catch (thrown) {
    if (!(thrown instanceof ApiError)) throw thrown
    error.value = thrown.report
  }
}
const choose = (of: Table, id: number) => attempt(() => state.document.add(of, id))
/** The address names the first record, so that a rehearsal can be opened by it. */
const first = route.params['id']
const handed = useHandover().take()
if (handed) {
  ground.value = handed.ground
  void attempt(() => state.document.take(handed.rows))
} else if (askedSave) void openSave(askedSave)
else if (typeof first === 'string' && first !== '') {
  const of = project.table(table.value)
  if (of && first === 'new') state.document.addNew(of)
  else if (of) void choose(of, Number(first))
}
watch([table, () => rows.value[0], ground], () => {
  const [row] = rows.value
  void router.replace({
    name: 'rehearse',
    params: { table: row?.table ?? table.value, id: row ? String(row.id ?? 'new') : '' },
    query: { on: groundWord.value },
  })
})

const chosen = computed(() => rows.value.flatMap((row) => (row.id === null ? [] : [`${row.table} ${row.id}`])))

const changeGround = (word: string) => state.changeGround(word === 'live' ? {} : { fixtures: word })
const counts = computed(() => countSave(run.value, hooks.all))
const ran = computed(() => Object.keys(run.value?.ran ?? {}).sort())
const slept = computed(() =>
  [...new Set(run.value?.verdicts.filter((each) => each.verdict === 'skipped').map((each) => each.hook))]
    .filter((hook) => !ran.value.includes(hook))
    .sort(),
)
useEventListener('keydown', (event) => {
  if (event.ctrlKey && event.key === 'Enter') void state.rehearse()
})
</script>

<template>
  <div class="column view">
    <PathRibbon v-model="station" :counts="counts" :busy="busy" />
    <SplitBox name="rehearse" class="fill">
      <Pane :size="20" :min-size="14">
        <RecordChooser
          label="Records to rehearse with"
          makes
          v-model:table="table"
          :tables="project.tables"
          :ground="ground"
          :chosen="chosen"
          @add="choose"
          @make="(of) => state.document.addNew(of)"
          @failed="(failure) => (error = failure.report)"
        />
      </Pane>
      <Pane :size="80">
        <SplitBox name="rehearse-run" horizontal>
          <Pane :size="50" :min-size="15" class="column">
            <div class="bar line-b small">
              <v-select
                prefix="On:"
                aria-label="On the records of"
                :model-value="groundWord"
                @update:model-value="changeGround($event)"
                :items="[
                  ...(project.info?.fixtures ?? []).map((set) => ({ value: set.name, title: set.name })),
                  { value: 'live', title: 'the live records' },
                  ...(ground.before === undefined
                    ? []
                    : [{ value: groundWord, title: `the records before save ${ground.before}` }]),
                ]"
              />
              <v-text-field prefix="Time:" aria-label="Time of the save" v-model="clock" placeholder="now" />
              <v-checkbox v-if="rows.length > 1" v-model="partial" label="Save valid rows only" />
              <span class="fill" />
              <v-btn v-if="rows.length" @click="rows = []">Clear</v-btn>
              <v-btn variant="outlined" color="primary" :disabled="!run || keeping" @click="keeping = true"> Save as test </v-btn>
            </div>
            <ErrorNote v-if="error" :error="error" />
            <p v-if="keptFile" class="kept small" role="status">
              Saved as <span class="mono">{{ keptFile }}</span>, with its fixture set.
            </p>
            <EmptyState v-if="rows.length === 0" title="No rows yet"
              >Choose a record on the left, or create one. Rehearsals never change stored records.</EmptyState
            >
            <div v-else class="scroll fill">
              <DocumentForm
                :document="state.document"
                :outcomes="run?.rows ?? []"
                :refusals="run?.refusals ?? []"
                :ground="ground"
                @failed="(failure) => (error = failure)"
              />
            </div>
          </Pane>
          <Pane :size="50" :min-size="15" class="column">
            <RunPanel
              :run="run"
              :station="station"
              :ground="ground"
              :about="about"
              :name="`rehearsal-${rows[0]?.table ?? 'run'}`"
              @open="openSave"
            >
              <KeepTest
                v-if="keeping && run"
                :make="keepTest"
                :plugin="project.hook(ran[0] ?? slept[0] ?? '')?.plugin"
                :slept="slept"
                example="a gross mass gives the net mass"
                @close="keeping = false"
                @kept="(file) => ((keeping = false), (keptFile = file))"
              />
            </RunPanel>
          </Pane>
        </SplitBox>
      </Pane>
    </SplitBox>
  </div>
</template>

<style scoped>
.view {
  height: 100%;
}
.bar {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 10px;
  padding: 3px 12px;
  background: rgb(var(--v-theme-background));
}
.kept {
  padding: 4px 14px;
}
</style>
