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
import PlainTable from '../../../components/grid/PlainTable.vue'

/** Calls an exported function of the plugin's lib with typed-in arguments: what it gives, what each line did, and a test of it. */
const emit = defineEmits<{ place: [place: Place] }>()
const { plugin } = useWrite()
const drafts = useDrafts()
const { functions, chosen, current, typed, problem, answer, error, asked, keyOf, keep } = useFunction()
const keeping = ref(false)
const keptFile = ref<string | null>(null)
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
  <EmptyState v-else-if="functions.length === 0" title="No functions"
    >Functions exported from modules in {{ plugin?.name }}/lib/ can be called here.</EmptyState
  >
  <div v-else class="split">
    <div class="scroll fill panel" tabindex="0" aria-label="Try function">
      <div class="row">
        <v-select
          v-model="chosen"
          aria-label="Function"
          :items="functions.map((each) => ({ value: keyOf(each), title: each.name, props: { subtitle: fileName(each.file) } }))"
        />
        <v-btn v-if="current" class="place" @click="emit('place', { file: current!.file, line: current!.line })">
          {{ fileName(current.file) }}, line {{ current.line }}
        </v-btn>
        <span class="fill" />
        <v-btn variant="outlined" color="primary" :disabled="!answer || keeping" @click="keeping = true"> Save as test </v-btn>
      </div>
      <p v-if="current?.doc" class="quiet small">{{ current.doc }}</p>
      <p v-if="keptFile" role="status" class="small">
        Saved as <span class="mono">{{ keptFile }}</span>.
      </p>
      <PlainTable label="Arguments" v-if="current">
        <tbody>
          <tr v-for="(parameter, at) in current.parameters" :key="parameter.name">
            <th scope="row" class="mono">{{ parameter.rest ? '…' : '' }}{{ parameter.name }}</th>
            <td>
              <v-checkbox
                v-if="parameter.optional"
                class="small quiet"
                v-model="typed[at]!.left"
                :aria-label="`${parameter.name} is left out`"
                label="left out"
              />
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
      </PlainTable>
      <p v-if="problem" class="refused small" role="status">{{ problem }}</p>
      <ErrorNote v-if="error" :error="error" />
      <p v-else-if="answer?.result" class="result">
        <span class="quiet">gives</span> <strong class="mono" data-test="result">{{ answer.result.text }}</strong>
        <CopyJson :value="answer.result.json" />
        <span class="quiet small"
          >{{ current?.gives }} · {{ answer.steps }} {{ answer.steps === 1 ? 'step' : 'steps' }} · {{ answer.ms }} ms</span
        >
      </p>
      <PlainTable label="Lines" v-if="lines.length">
        <tbody>
          <tr v-for="line in lines" :key="line.line">
            <td class="quiet">{{ line.line }}</td>
            <td class="mono small code">{{ line.code }}</td>
            <td class="copper small" :title="line.title">{{ line.text }}</td>
          </tr>
        </tbody>
      </PlainTable>
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
