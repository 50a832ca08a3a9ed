<script setup lang="ts">
import type { Place } from '@patient-hook/contract'
import { computed, ref } from 'vue'
import CopyJson from '../../../components/CopyJson.vue'
import EmptyState from '../../../components/EmptyState.vue'
import ErrorNote from '../../../components/ErrorNote.vue'
import KeepTest from '../../../components/KeepTest.vue'
import { lineValues } from '../../../lib/line-values'
import { useDrafts } from '../../../stores/drafts'
import { useWrite } from '../write-state'
import ArgumentInput from './ArgumentInput.vue'
import { useFunction } from './use-function'

/** Calls an exported function of the plugin's lib with typed-in arguments: what it gives, what each line did, and a test of it. */
const emit = defineEmits<{ place: [place: Place] }>()
const { plugin } = useWrite()
const drafts = useDrafts()
const { functions, chosen, current, typed, problem, answer, error, asked, keyOf, keep } = useFunction()
const keeping = ref(false)
const keptFile = ref<string | null>(null)
const groups = computed(() => [...new Set((functions.value ?? []).map((each) => each.file))])
const fileName = (file: string) => file.replace(/^plugins\/[^/]+\//, '')

/** The lines of the module, each with what it came to. */
const lines = computed(() => {
  if (!answer.value || !current.value) return []
  const { file, name } = current.value
  const code = drafts.textOf(file).split('\n')
  return lineValues(answer.value.lines, file, name).map((each) => ({ ...each, code: code[each.line - 1]?.trim() ?? '' }))
})
</script>

<template>
  <EmptyState v-if="functions === null" title="Reading the modules…" role="status" />
  <EmptyState v-else-if="functions.length === 0" title="No function to try"
    >What a module in {{ plugin?.name }}/lib/ exports can be called here by itself.</EmptyState
  >
  <div v-else class="split">
    <div class="scroll fill panel" tabindex="0" aria-label="Try a function">
      <div class="row">
        <select v-model="chosen" aria-label="Function">
          <optgroup v-for="file in groups" :key="file" :label="fileName(file)">
            <option v-for="each in functions.filter((one) => one.file === file)" :key="each.name" :value="keyOf(each)">
              {{ each.name }}
            </option>
          </optgroup>
        </select>
        <button
          v-if="current"
          type="button"
          class="place small"
          @click="emit('place', { file: current!.file, line: current!.line })"
        >
          {{ fileName(current.file) }}, line {{ current.line }}
        </button>
        <span class="fill" />
        <v-btn size="small" variant="outlined" color="primary" :disabled="!answer || keeping" @click="keeping = true">
          Keep as a test
        </v-btn>
      </div>
      <p v-if="current?.doc" class="quiet small">{{ current.doc }}</p>
      <p v-if="keptFile" role="status" class="small">
        Kept as <span class="mono">{{ keptFile }}</span>.
      </p>
      <table v-if="current" class="plain-table" aria-label="Arguments">
        <tbody>
          <tr v-for="(parameter, at) in current.parameters" :key="parameter.name">
            <th scope="row" class="mono">{{ parameter.rest ? '…' : '' }}{{ parameter.name }}</th>
            <td>
              <label v-if="parameter.optional" class="small quiet">
                <input v-model="typed[at]!.left" type="checkbox" :aria-label="`${parameter.name} is left out`" /> left out
              </label>
              <ArgumentInput
                v-if="typed[at] && !typed[at].left"
                :key="chosen"
                v-model="typed[at].value"
                :shape="parameter.shape"
                :label="parameter.name"
              />
            </td>
            <td class="quiet mono small">{{ parameter.shape.text }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="problem" class="refused small" role="status">{{ problem }}</p>
      <ErrorNote v-if="error" :error="error" />
      <p v-else-if="answer?.result" class="result">
        <span class="quiet">gives</span> <strong class="mono" data-test="result">{{ answer.result.text }}</strong>
        <CopyJson :value="answer.result.json" />
        <span class="quiet small"
          >{{ current?.gives }} · {{ answer.steps }} {{ answer.steps === 1 ? 'step' : 'steps' }} · {{ answer.ms }} ms</span
        >
      </p>
      <table v-if="lines.length" class="plain-table" aria-label="Lines">
        <tbody>
          <tr v-for="line in lines" :key="line.line">
            <td class="quiet">{{ line.line }}</td>
            <td class="mono small code">{{ line.code }}</td>
            <td class="copper small" :title="line.title">{{ line.text }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <KeepTest
      v-if="keeping && asked"
      :make="keep"
      :plugin="plugin?.name"
      fixed
      example="ten grams of fine seed"
      @close="keeping = false"
      @kept="(file) => ((keeping = false), (keptFile = file))"
    />
  </div>
</template>

<style scoped>
.split {
  display: flex;
  min-height: 0;
}
.panel {
  padding: 8px 14px 16px;
}
.place {
  color: rgb(var(--v-theme-primary));
}
.result {
  margin: 8px 0;
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 8px;
}
table {
  margin: 8px 0;
}
td,
th {
  white-space: normal !important;
  vertical-align: baseline;
}
.code {
  white-space: pre-wrap !important;
}
</style>
