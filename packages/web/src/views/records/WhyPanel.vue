<script setup lang="ts">
import type { Table, WhySource, WhyStep } from '@patient-hook/contract'
import { shallowRef, watch } from 'vue'
import ErrorNote from '../../components/ErrorNote.vue'
import { api } from '../../lib/api'
import { show } from '../../lib/text'
import { useAttempt } from '../../lib/use-attempt'
import { useProject } from '../../stores/project'
import MomentText from '../../components/MomentText.vue'

/** Why a field holds what it holds, back to what somebody typed. */
const props = defineProps<{ table: Table; id: number; field: string }>()
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const steps = shallowRef<readonly WhyStep[]>([])
const { error, busy, attempt } = useAttempt()
watch(
  () => [props.table.name, props.id, props.field],
  () => attempt(async () => void (steps.value = (await api.why(props.table.name, props.id, props.field)).steps)),
  { immediate: true },
)
/** Follows another of the values that a hook looked at. */
const follow = (at: number, { table, id, field }: WhySource) =>
  attempt(async () => {
    const { save } = steps.value[at]!
    const more = await api.why(table, id, field, save ?? undefined)
    steps.value = [...steps.value.slice(0, at + 1), ...more.steps]
  })

const labelOf = (table: string, field: string) => project.table(table)?.fields.find(({ name }) => name === field)?.label ?? field
const hookOf = (by: string | null) => /^[^/]+\/(.+)@[^@]*$/.exec(by ?? '')?.[1] ?? null
function who({ by, user, job }: WhyStep): string {
  if (by === null) return 'imported with the record, never changed by a save'
  if (by === 'typed') return `typed by ${user}`
  if (by === 'default') return 'the table’s default'
  if (by === 'link') return 'cleared with the record that it linked to'
  if (by === 'model') return `changed with the table by ${user}`
  if (by === 'backfill') return `set by backfill ${job ?? ''}, by ${user}`
  return `set by ${by}`
}
const isNext = (at: number, source: WhySource) => {
  const next = steps.value[at + 1]
  return next?.table === source.table && next.id === source.id && next.field === source.field
}
</script>

<template>
  <section class="why" :aria-label="`Origin of ${labelOf(table.name, field)}`">
    <header class="row">
      <h3>Why is {{ labelOf(table.name, field) }} set to this?</h3>
      <span class="fill" />
      <v-btn variant="outlined" @click="emit('close')">Close</v-btn>
    </header>
    <ErrorNote v-if="error" :error="error.report" />
    <ol :aria-busy="busy">
      <li v-for="(step, at) in steps" :key="at">
        <div>
          <router-link class="link" :to="{ name: 'records', params: { table: step.table, id: String(step.id) } }">{{
            step.label
          }}</router-link>: {{ labelOf(step.table, step.field) }} is <strong>{{ show(step.value) }}</strong>
        </div>
        <div class="small">
          {{ who(step) }}
          <router-link v-if="hookOf(step.by)" class="link" :to="{ name: 'write', params: { hook: hookOf(step.by)! } }"
            >see it</router-link
          >
          <template v-if="step.save !== null">
            <span class="quiet">
              in
              <router-link class="link" :to="{ name: 'saves', params: { id: String(step.save) } }"
                >save {{ step.save }}</router-link
              >, <MomentText :at="step.at!" />{{ step.depth > 0 ? `, a ripple ${step.depth} deep` : '' }}; it was
              {{ show(step.from) }}
              <router-link class="link" :to="{ name: 'rehearse', query: { on: `before-${step.save}` } }"
                >rehearse</router-link
              ></span
            >
          </template>
        </div>
        <div v-if="step.sources.length" class="small sources">
          <span class="quiet">it read</span>
          <v-btn
            v-for="source in step.sources"
            :key="`${source.table} ${source.id} ${source.field}`"
            variant="outlined"
            :active="isNext(at, source)"
            :aria-pressed="isNext(at, source)"
            :title="`${source.table} ${source.id}`"
            @click="follow(at, source)"
          >
            {{ source.table === step.table && source.id === step.id ? '' : `${source.table} ${source.id} `
            }}{{ labelOf(source.table, source.field) }} {{ show(source.value)
            }}{{ source.same ? ' (the same)' : source.changed ? ' (changed then)' : '' }}
          </v-btn>
        </div>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.why {
  padding: 8px 12px;
  border-bottom: 1px solid rgb(var(--v-theme-line));
}
h3 {
  font-size: 13px;
  font-weight: 620;
}
ol {
  padding-left: 18px;
}
li {
  padding: 4px 0;
}
.sources {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
  margin-top: 2px;
}
</style>
