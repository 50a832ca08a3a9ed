<script setup lang="ts">
import type { HookInfo, Table } from '@patient-hook/contract'
import type { DefinitionPart } from '@patient-hook/core/language'
import { computed, ref } from 'vue'
import type { Outline } from '../../language/protocol'
import { useHooks } from '../../stores/hooks'
import { useProject } from '../../stores/project'
import HookPlace from './HookPlace.vue'

/** Definition, beside its code. It shows what the code says, and a change here is a change of the code. */
const props = defineProps<{ hook: HookInfo; table: Table; outline: Outline | null; reading: boolean }>()
const emit = defineEmits<{ change: [part: DefinitionPart, value: string | string[]] }>()
const project = useProject()
const hooks = useHooks()

const EVENTS = ['create', 'update', 'delete'] as const
const MOMENTS = [
  { value: 'before-save', word: 'changes the saved record' },
  { value: 'after-save', word: 'changes other records' },
  { value: 'before-commit', word: 'checks all records before they are committed' },
] as const
const RIPPLES = [
  { value: 'all', word: 'runs on ripples too' },
  { value: 'others', word: 'skips ripples that it caused' },
  { value: 'none', word: 'runs only on typed changes' },
] as const
const definition = computed(() => props.outline?.definition ?? null)
const computedPart = (part: string) => definition.value?.computed.includes(part) ?? false
const text = ref('')
const plain = (value: string) => value.toLowerCase().replace(/[^a-z0-9]+/g, '')
const fields = computed(() =>
  props.table.fields.filter((field) => plain(field.label + ' ' + field.name).includes(plain(text.value))),
)
/** Watched names that the table does not have are highlighted, and can be removed. */
const unknown = computed(() =>
  (definition.value?.watch ?? []).filter((name) => !props.table.fields.some((field) => field.name === name)),
)
const rivals = computed(() =>
  hooks.all.filter(
    (each) => each.name !== props.hook.name && each.table === props.hook.table && each.moment === props.hook.moment,
  ),
)

function toggle(part: 'on' | 'watch' | 'after', name: string, order: readonly string[]): void {
  const list = definition.value?.[part] ?? []
  const next = list.includes(name) ? list.filter((each) => each !== name) : [...list, name]
  if (part === 'on' && next.length === 0) return
  emit('change', part, part === 'on' ? order.filter((each) => next.includes(each)) : next)
}
</script>

<template>
  <aside class="panel scroll line-l small" aria-label="Definition" tabindex="0">
    <HookPlace v-if="!hooks.isNew(hook.name)" :hook="hook" />
    <p v-if="!definition" class="quiet" role="status">
      {{ reading ? 'Loading…' : 'The code has no defineHook({ … }) call yet.' }}
    </p>
    <template v-else>
      <v-select
        :model-value="definition.table"
        :disabled="computedPart('table')"
        label="Table"
        @update:model-value="emit('change', 'table', $event)"
        :items="project.tables.map((each) => ({ value: each.name, title: each.label }))"
      />
      <v-select
        :model-value="definition.moment"
        :disabled="computedPart('moment')"
        label="Moment"
        @update:model-value="emit('change', 'moment', $event)"
        :items="MOMENTS.map((each) => ({ value: each.value, title: each.value }))"
      />
      <p class="quiet word">{{ MOMENTS.find((each) => each.value === definition!.moment)?.word }}</p>
      <fieldset :disabled="computedPart('on')">
        <legend>Events</legend>
        <v-checkbox
          v-for="event in EVENTS"
          :key="event"
          :model-value="definition.on.includes(event)"
          @update:model-value="toggle('on', event, EVENTS)"
          :label="event"
        />
      </fieldset>
      <fieldset :disabled="computedPart('watch')">
        <legend>Watch</legend>
        <p v-if="definition.watch.length === 0" class="quiet">Runs on every change.</p>
        <v-text-field type="search" v-model="text" placeholder="Field by label" aria-label="Filter fields" />
        <v-checkbox
          v-for="name in unknown"
          :key="name"
          class="refused"
          :model-value="true"
          @update:model-value="toggle('watch', name, [])"
          :label="`${name} (no such field)`"
        />
        <v-checkbox
          v-for="field in fields"
          :key="field.name"
          class="field"
          :title="field.help"
          :model-value="definition.watch.includes(field.name)"
          :aria-label="`Watch ${field.name}`"
          @update:model-value="toggle('watch', field.name, [])"
          ><template #label
            ><span
              >{{ field.label }} <span class="mono quiet">{{ field.name }}</span></span
            ></template
          ></v-checkbox
        >
      </fieldset>
      <template v-if="definition.moment !== 'before-commit'">
        <v-select
          :model-value="definition.ripples"
          :disabled="computedPart('ripples')"
          label="Ripples"
          @update:model-value="emit('change', 'ripples', $event)"
          :items="RIPPLES.map((each) => ({ value: each.value, title: each.value }))"
        />
        <p class="quiet word">{{ RIPPLES.find((each) => each.value === definition!.ripples)?.word }}</p>
      </template>
      <fieldset v-if="rivals.length" :disabled="computedPart('after')">
        <legend>Runs after</legend>
        <v-checkbox
          v-for="each in rivals"
          :key="each.name"
          :model-value="definition.after.includes(each.name)"
          @update:model-value="toggle('after', each.name, [])"
          :label="each.name"
        />
      </fieldset>
      <p v-if="definition.computed.length" class="quiet">
        {{ definition.computed.join(', ') }}: computed in code. Edit the code to change it.
      </p>
    </template>
  </aside>
</template>

<style scoped>
.panel {
  width: 238px;
  flex: none;
  padding: 8px 12px 14px;
  background: rgb(var(--v-theme-background));
  border-left: 1px solid rgb(var(--v-theme-line));
}
.panel > .v-input {
  margin-top: 10px;
}
fieldset {
  border: 0;
  margin: 8px 0 0;
  padding: 0;
  min-width: 0;
}
.word {
  margin: 2px 0 0 10px;
}
legend {
  font-weight: 620;
  padding: 0;
}
.field span {
  overflow-wrap: anywhere;
}
</style>
