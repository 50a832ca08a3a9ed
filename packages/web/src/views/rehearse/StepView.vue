<script setup lang="ts">
import type { Place, Rehearsal } from '@patient-hook/contract'
import { computed, ref, watch } from 'vue'
import CopyJson from '../../components/CopyJson.vue'
import type { TriedGround } from '../../lib/api'
import { stepsOf } from '../../lib/run/steps'
import { show } from '../../lib/text'
import { useDrafts } from '../../stores/drafts'
import FoundRecords from './FoundRecords.vue'

/** The recorded run line by line: forwards and back, with the variables and the record as they was. */
const props = defineProps<{ run: Rehearsal; ground: TriedGround }>()
const emit = defineEmits<{ place: [place: Place] }>()
const drafts = useDrafts()

const all = computed(() => stepsOf(props.run))
/** Calls of a hook's part for one row, or for the batch. */
const calls = computed(() => {
  const groups: { key: string; word: string; from: number; count: number }[] = []
  all.value.forEach((step, index) => {
    const of = step.row ? `${step.row.table} ${step.row.id}` : 'all rows'
    const key = `${step.hook} ${step.part} ${of} ${step.depth}`
    const last = groups.at(-1)
    if (last?.key === key) last.count++
    else
      groups.push({
        key,
        word: `${step.hook}: ${step.part} for ${of}${step.depth ? `, depth ${step.depth}` : ''}`,
        from: index,
        count: 1,
      })
  })
  return groups
})
const at = ref(0)
watch(all, (steps) => (at.value = Math.min(at.value, Math.max(0, steps.length - 1))))
const step = computed(() => all.value[at.value])
const call = computed(() => calls.value.findLast((each) => each.from <= at.value))
const move = (by: number) => (at.value = Math.max(0, Math.min(all.value.length - 1, at.value + by)))

/** The lines around the step. */
const AROUND = 7
watch(
  () => step.value?.file,
  (file) => {
    if (file) void drafts.open(file)
  },
  { immediate: true },
)
const code = computed(() => {
  const current = step.value
  if (!current) return []
  const lines = drafts.textOf(current.file).split('\n')
  const from = Math.max(0, current.line - 1 - AROUND)
  return lines.slice(from, current.line + AROUND).map((text, index) => ({ number: from + index + 1, text }))
})
/** The step at which a field of the record got the value that it has now. */
function whereSet(field: string): void {
  const current = step.value
  const found = all.value.findLastIndex(
    (each, index) =>
      index <= at.value &&
      each.set.includes(field) &&
      each.row?.id === current?.row?.id &&
      each.row?.table === current?.row?.table,
  )
  if (found >= 0) at.value = found
}
function keys(event: KeyboardEvent): void {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
  if (!by || (event.target as HTMLElement).tagName === 'SELECT') return
  event.preventDefault()
  move(by)
}
</script>

<template>
  <div class="steps column" tabindex="0" aria-label="Steps" @keydown="keys">
    <p v-if="!step" class="quiet none">No lines ran. See Path for why hooks were skipped.</p>
    <template v-else>
      <div class="bar line-b small">
        <v-btn :disabled="at === 0" aria-label="Previous line" @click="move(-1)">‹</v-btn>
        <span class="mono">{{ at + 1 }} / {{ all.length }}</span>
        <v-btn :disabled="at === all.length - 1" aria-label="Next line" @click="move(1)">›</v-btn>
        <v-select
          :model-value="call?.from"
          aria-label="Call"
          @update:model-value="at = Number($event)"
          :items="calls.map((each) => ({ value: each.from, title: `${each.word} (${each.count})` }))"
        />
        <v-btn class="link" @click="emit('place', { file: step.file, line: step.line })">
          {{ step.file.replace(/^plugins\//, '') }}, line {{ step.line }}
        </v-btn>
        <span v-if="run.log?.leftOut" class="quiet">{{ run.log.leftOut }} events are missing because the log is full</span>
      </div>
      <div class="parts fill">
        <pre class="code scroll" tabindex="0" aria-label="Code at the step"><span
          v-for="each in code" :key="each.number" class="text" :class="{ here: each.number === step.line }"
          ><i>{{ String(each.number).padStart(4) }}</i>  {{ each.text }}
</span></pre>
        <div class="scroll side" tabindex="0" aria-label="Variables and record">
          <p v-for="(did, index) in step.did" :key="index" class="copper">{{ did }}</p>
          <div v-for="index in step.lookups" :key="`l${index}`" class="pair">
            looked up <span class="mono">{{ run.lookups[index]?.call }} {{ run.lookups[index]?.table }}</span
            >:
            <FoundRecords v-if="run.lookups[index]" :lookup="run.lookups[index]" :ground="ground" />
          </div>
          <h3>Variables</h3>
          <p v-if="step.variables.length === 0" class="quiet">none yet</p>
          <div v-for="each in step.variables" :key="each.name" class="pair">
            <span class="mono">{{ each.name }}</span> <span>{{ each.text }}</span>
            <CopyJson v-if="each.json !== undefined" :value="each.json" />
          </div>
          <template v-if="step.record">
            <h3>{{ step.row!.table }} {{ step.row!.id }} at this line</h3>
            <div
              v-for="(value, field) in step.record"
              :key="field"
              class="pair"
              :class="{ set: step.set.includes(String(field)) }"
            >
              <span class="mono">{{ field }}</span> <span>{{ show(value) }}</span>
              <v-btn v-if="all.some((each) => each.set.includes(String(field)))" class="link" @click="whereSet(String(field))">
                where set
              </v-btn>
            </div>
          </template>
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.steps {
  height: 100%;
}
.none {
  padding: 10px 14px;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 8px;
  padding: 3px 10px;
}
.parts {
  display: flex;
  min-height: 0;
}
.code {
  flex: 3;
  margin: 0;
  padding: 6px 0;
  font-family: var(--mono);
  font-size: 12.5px;
}
.text {
  display: block;
  white-space: pre;
}
.text i {
  font-style: normal;
  color: rgba(var(--v-theme-on-surface), 0.74);
}
.here {
  background: rgba(var(--v-theme-copper), 0.2);
}
.side {
  flex: 2;
  padding: 4px 12px 14px;
  border-left: 1px solid rgb(var(--v-theme-line));
}
h3 {
  font-size: 13px;
  font-weight: 650;
  padding: 8px 0 2px;
}
.pair {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: baseline;
}
.set {
  background: rgba(var(--v-theme-copper), 0.2);
}
.link {
  text-decoration: underline;
  color: rgb(var(--v-theme-primary));
}
</style>
