<script setup lang="ts">
import type { HookInfo, Table } from '@patient-hook/contract'
import type { DefinitionPart } from '@patient-hook/core/language'
import { computed, ref } from 'vue'
import type { Outline } from '../../language/protocol'
import { useHooks } from '../../stores/hooks'
import { useProject } from '../../stores/project'
import HookPlace from './HookPlace.vue'

/** What wakes the hook, beside its code. It shows what the code says, and a change here is a change of the code. */
const props = defineProps<{ hook: HookInfo; table: Table; outline: Outline | null; reading: boolean }>()
const emit = defineEmits<{ change: [part: DefinitionPart, value: string | string[]] }>()
const project = useProject()
const hooks = useHooks()

const EVENTS = ['create', 'update', 'delete'] as const
const MOMENTS = [
  { value: 'before-save', word: 'changes the record itself' },
  { value: 'after-save', word: 'touches other records' },
  { value: 'before-commit', word: 'checks the whole, as it will be kept' },
] as const
const RIPPLES = [
  { value: 'all', word: 'ripples wake it too' },
  { value: 'others', word: 'not the ripples that it caused itself' },
  { value: 'none', word: 'only what was typed wakes it' },
] as const
const definition = computed(() => props.outline?.definition ?? null)
const computedPart = (part: string) => definition.value?.computed.includes(part) ?? false
const text = ref('')
const plain = (value: string) => value.toLowerCase().replace(/[^a-z0-9]+/g, '')
const fields = computed(() =>
  props.table.fields.filter((field) => plain(field.label + ' ' + field.name).includes(plain(text.value))),
)
/** Watched names that the table does not have stand out, and can be taken out. */
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
  <aside class="panel scroll line-l small" aria-label="What wakes the hook" tabindex="0">
    <HookPlace v-if="!hooks.isNew(hook.name)" :hook="hook" />
    <p v-if="!definition" class="quiet" role="status">
      {{ reading ? 'Reading the code…' : 'The code has no defineHook({ … }) yet.' }}
    </p>
    <template v-else>
      <label class="line">
        <span>Table</span>
        <select
          :value="definition.table"
          :disabled="computedPart('table')"
          aria-label="Table of the hook"
          @change="emit('change', 'table', ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="each in project.tables" :key="each.name" :value="each.name">{{ each.label }}</option>
        </select>
      </label>
      <label class="line">
        <span>Moment</span>
        <select
          :value="definition.moment"
          :disabled="computedPart('moment')"
          aria-label="Moment of the hook"
          @change="emit('change', 'moment', ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="each in MOMENTS" :key="each.value" :value="each.value">{{ each.value }}</option>
        </select>
      </label>
      <p class="quiet word">{{ MOMENTS.find((each) => each.value === definition!.moment)?.word }}</p>
      <fieldset :disabled="computedPart('on')">
        <legend>Events</legend>
        <label v-for="event in EVENTS" :key="event">
          <input type="checkbox" :checked="definition.on.includes(event)" @change="toggle('on', event, EVENTS)" /> {{ event }}
        </label>
      </fieldset>
      <fieldset :disabled="computedPart('watch')">
        <legend>Watch</legend>
        <p v-if="definition.watch.length === 0" class="quiet">Every change wakes it.</p>
        <input v-model="text" type="search" placeholder="Field by label" aria-label="Filter the fields to watch" />
        <label v-for="name in unknown" :key="name" class="refused">
          <input type="checkbox" checked @change="toggle('watch', name, [])" /> {{ name }} (no such field)
        </label>
        <label v-for="field in fields" :key="field.name" class="field" :title="field.help">
          <input
            type="checkbox"
            :checked="definition.watch.includes(field.name)"
            :aria-label="`Watch ${field.name}`"
            @change="toggle('watch', field.name, [])"
          />
          <span
            >{{ field.label }} <span class="mono quiet">{{ field.name }}</span></span
          >
        </label>
      </fieldset>
      <template v-if="definition.moment !== 'before-commit'">
        <label class="line part">
          <span>Ripples</span>
          <select
            :value="definition.ripples"
            :disabled="computedPart('ripples')"
            aria-label="Ripples that wake the hook"
            @change="emit('change', 'ripples', ($event.target as HTMLSelectElement).value)"
          >
            <option v-for="each in RIPPLES" :key="each.value" :value="each.value">{{ each.value }}</option>
          </select>
        </label>
        <p class="quiet word">{{ RIPPLES.find((each) => each.value === definition!.ripples)?.word }}</p>
      </template>
      <fieldset v-if="rivals.length" :disabled="computedPart('after')">
        <legend>Runs after</legend>
        <label v-for="each in rivals" :key="each.name">
          <input type="checkbox" :checked="definition.after.includes(each.name)" @change="toggle('after', each.name, [])" />
          {{ each.name }}
        </label>
      </fieldset>
      <p v-if="definition.computed.length" class="quiet">
        {{ definition.computed.join(', ') }}: worked out in the code, and changed there.
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
.line {
  display: grid;
  grid-template-columns: 58px 1fr;
  align-items: center;
  margin-bottom: 6px;
}
select {
  min-width: 0;
  width: 100%;
}
fieldset {
  border: 0;
  margin: 8px 0 0;
  padding: 0;
  min-width: 0;
}
.part {
  margin-top: 10px;
}
.word {
  margin: -3px 0 0 58px;
}
legend {
  font-weight: 620;
  padding: 0;
}
fieldset label {
  display: flex;
  gap: 6px;
  align-items: baseline;
  padding: 1px 0;
}
fieldset input[type='search'] {
  width: 100%;
  margin: 3px 0;
}
.field span {
  overflow-wrap: anywhere;
}
</style>
