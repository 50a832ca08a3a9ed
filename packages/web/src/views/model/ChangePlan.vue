<script setup lang="ts">
import type { ErrorReport, ModelPlan, TableEdit, Value } from '@patient-hook/contract'
import { computed } from 'vue'
import BusyButton from '../../components/BusyButton.vue'
import ErrorNote from '../../components/ErrorNote.vue'

/** What a change does to records, fixtures and code, before it is done. */
const props = defineProps<{ plan: ModelPlan | null; edit: TableEdit; error: ErrorReport | null; busy: boolean; isNew: boolean }>()
const fills = defineModel<Record<string, Value>>('fills', { required: true })
const accepted = defineModel<boolean>('accepted', { required: true })
const emit = defineEmits<{ apply: [] }>()

const WORDS = { safe: 'safe', breaks: 'breaks', loses: 'loses', blocked: 'blocked' } as const
const blocked = computed(() => props.plan?.steps.some((step) => step.effect === 'blocked') ?? true)
const asks = computed(() => props.plan?.steps.some((step) => step.effect === 'loses' || step.effect === 'breaks') ?? false)
const ready = computed(
  () => !props.busy && props.plan !== null && props.plan.steps.length > 0 && !blocked.value && (!asks.value || accepted.value),
)
const fieldOf = (name: string) => props.edit.fields.find((field) => field.name === name)

function fill(name: string, text: string): void {
  const field = fieldOf(name)
  const { [name]: _, ...others } = fills.value
  if (text === '' || !field) fills.value = others
  else
    fills.value = {
      ...others,
      [name]:
        field.type === 'string'
          ? text
          : field.type === 'boolean'
            ? text === 'true'
            : Number.isNaN(Number(text))
              ? text
              : Number(text),
    }
}
</script>

<template>
  <aside class="plan scroll line-l" aria-label="Effects of the change" tabindex="0">
    <h3>Preview</h3>
    <ErrorNote v-if="error" :error="error" />
    <p v-if="!plan && !error" class="quiet">Checking records…</p>
    <p v-else-if="plan && plan.steps.length === 0" class="quiet">No changes yet.</p>
    <ul v-else-if="plan" :class="{ waits: busy }">
      <li v-for="(step, index) in plan.steps" :key="index" :class="step.effect">
        <b>{{ WORDS[step.effect] }}</b> {{ step.text }}
        <span v-if="step.examples.length" class="quiet small">
          For example {{ step.table }}
          <template v-for="(id, at) in step.examples" :key="id"
            ><template v-if="at">, </template
            ><router-link :to="{ name: 'records', params: { table: step.table, id } }">{{ id }}</router-link></template
          >.
        </span>
        <label v-if="step.wantsFill && step.field" class="small">
          Fill with
          <v-select
            v-if="fieldOf(step.field)?.enum"
            :model-value="fills[step.field] ?? ''"
            :aria-label="`Value for ${step.field}`"
            @update:model-value="fill(step.field, String($event))"
            :items="[{ value: '', title: 'no value' }, ...fieldOf(step.field)!.enum]"
          />
          <v-text-field
            v-else
            :model-value="fills[step.field] ?? ''"
            :aria-label="`Value for ${step.field}`"
            @change="fill(step.field, $event.target.value)"
          />
        </label>
      </li>
      <!-- A step that a fill has settled is gone; what was given stays in sight. -->
      <li v-for="(given, name) in fills" :key="`fill ${name}`" class="safe">
        <b>fill</b> {{ name }}: records without a value are set to {{ given }}.
        <v-btn class="link" @click="fill(String(name), '')">Clear value</v-btn>
      </li>
    </ul>
    <p v-if="busy && plan" class="quiet small">Checking hooks and tests…</p>
    <p v-if="plan && plan.files.length > 1" class="quiet small">Also changes {{ plan.files.slice(1).join(', ') }}</p>
    <v-checkbox v-if="asks && !blocked" class="accept" v-model="accepted" label="I accept the losses and breakages" />
    <BusyButton class="mt-2" variant="flat" color="primary" :disabled="!ready" :busy="busy" @click="emit('apply')">{{
      isNew ? 'Create table' : 'Save table'
    }}</BusyButton>
  </aside>
</template>

<style scoped>
.plan {
  width: 272px;
  flex: none;
  padding: 12px 14px 24px;
  border-left: 1px solid rgb(var(--v-theme-line));
  background: rgb(var(--v-theme-surface));
}
h3 {
  font-size: 14px;
}
ul {
  list-style: none;
  margin-top: 6px;
}
ul.waits {
  opacity: 0.75;
}
li {
  padding: 5px 0 5px 8px;
  border-left: 3px solid rgb(var(--v-theme-line));
  margin-bottom: 6px;
  overflow-wrap: anywhere;
}
li.safe {
  border-left-color: rgb(var(--v-theme-success));
}
li.breaks {
  border-left-color: rgb(var(--v-theme-warning));
}
li.loses,
li.blocked {
  border-left-color: rgb(var(--v-theme-error));
}
li.loses b,
li.blocked b {
  color: rgb(var(--v-theme-error));
}
li.breaks b {
  color: rgb(var(--v-theme-warning));
}
li label {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-top: 3px;
}
.accept {
  display: block;
  margin-top: 8px;
}
.link,
a {
  color: rgb(var(--v-theme-primary));
  text-decoration: underline;
}
</style>
