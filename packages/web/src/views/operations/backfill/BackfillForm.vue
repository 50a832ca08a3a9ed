<script setup lang="ts">
import type { BackfillPlan as Plan } from '@patient-hook/contract'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import BusyButton from '../../../components/BusyButton.vue'
import ConditionList from '../../../components/ConditionList.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import JobLine from '../../../components/JobLine.vue'
import { api } from '../../../lib/api'
import { whereIn } from '../../../lib/conditions'
import { useAttempt } from '../../../lib/use-attempt'
import { useJob } from '../../../lib/use-job'
import { useProject } from '../../../stores/project'
import BackfillPlan from './BackfillPlan.vue'
import HookChoice from './HookChoice.vue'
import NumberChoice from './NumberChoice.vue'
import FieldValues from '../../../components/fields/FieldValues.vue'
import { useWish } from './use-wish'

/** A backfill is put together, planned by a rehearsal of it, and begun. */
const emit = defineEmits<{ begun: [id: number] }>()
const project = useProject()
const route = useRoute()
const { table, conditions, order, what, hooks, values, number, withEffects, withMessages, wish, fault } = useWish(
  typeof route.query['table'] === 'string' ? route.query['table'] : null,
  whereIn(typeof route.query['where'] === 'string' ? route.query['where'] : ''),
)
const sample = ref<number | ''>('')
const { results, job, error: failed, running, begin, stop } = useJob('backfill-plan')
const planned = ref('')
const plan = computed<Plan | null>(() => results.value?.[0]?.plan ?? null)
/** What was planned is shown as long as it is what is asked for. */
const isCurrent = computed(() => planned.value === JSON.stringify([wish.value, project.user]))
watch([wish, () => project.user], () => (failed.value = null))

function look(): void {
  planned.value = JSON.stringify([wish.value, project.user])
  void begin(() =>
    api.planBackfill({ ...wish.value!, user: project.user, ...(sample.value === '' ? {} : { sample: sample.value }) }),
  )
}
const { error, busy, attempt } = useAttempt()
const start = () =>
  attempt(async () => {
    const { backfill } = await api.beginBackfill({ ...wish.value!, user: project.user })
    emit('begun', backfill.id)
  })
const WAYS = { hooks: 'run hooks', set: 'set fields', number: 'assign numbers' } as const
</script>

<template>
  <form v-if="table" aria-label="New backfill" @submit.prevent="look">
    <h2>Run hooks on existing records</h2>
    <fieldset class="part">
      <legend>Records</legend>
      <v-select label="Table" v-model="table" :items="project.tables.map((each) => ({ value: each, title: each.label }))" />
      <ConditionList v-model="conditions" :table="table" />
      <v-text-field label="Order" v-model="order" :placeholder="`id, or such as -${table.fields[0]?.name ?? 'id'}`" />
    </fieldset>
    <fieldset class="part">
      <legend>Action</legend>
      <v-radio-group v-model="what" inline aria-label="Action">
        <v-radio v-for="(word, way) in WAYS" :key="way" :value="way" :label="word" />
      </v-radio-group>
      <HookChoice v-if="what === 'hooks'" v-model="hooks" :table="table" />
      <FieldValues v-else-if="what === 'set'" v-model="values" :table="table" />
      <NumberChoice v-else v-model="number" :table="table" />
      <v-checkbox class="small" v-model="withEffects" label="Apply after-save effects (otherwise they are only counted)" />
      <v-checkbox class="small" v-model="withMessages" label="Send messages" />
    </fieldset>
    <div class="row">
      <v-btn variant="outlined" color="primary" type="submit" :disabled="running || wish === null">Preview</v-btn>
      <v-text-field label="Limit preview to" v-model.number="sample" type="number" min="1" placeholder="all" class="count" />
      <BusyButton
        variant="flat"
        color="primary"
        type="button"
        :busy="busy"
        :disabled="!plan || !isCurrent || running || plan.total === 0"
        @click="start"
        >Start backfill</BusyButton
      >
      <span v-if="fault" class="quiet small">{{ fault }}</span>
      <span v-else-if="!plan || !isCurrent" class="quiet small">Preview first to see what would change.</span>
    </div>
    <JobLine :job="job" :running="running" label="Records rehearsed" of="records" @stop="stop" />
    <ErrorNote v-if="failed ?? error" :error="(failed ?? error)!.report" />
    <BackfillPlan v-if="plan && isCurrent" :plan="plan" :table="table.name" />
  </form>
</template>

<style scoped>
form > * {
  margin-top: 10px;
}
h2 {
  font-size: 16px;
  font-weight: 620;
  margin-top: 0;
}
.part {
  border: 1px solid rgb(var(--v-theme-line));
  border-radius: 4px;
  padding: 6px 12px 10px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
legend {
  padding: 0 4px;
  font-weight: 560;
}
.count {
  width: 80px;
}
</style>
