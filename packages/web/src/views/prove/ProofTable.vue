<script setup lang="ts">
import { BULK_PROPERTIES, BULK_SAYS } from '@patient-hook/contract'
import {
  HEADS,
  MARK_WORDS,
  SIGNS,
  findingsFigure,
  markOf,
  mutantsFigure,
  shareFigure,
  testsFigure,
  type Figure,
  type ProofLine,
} from './proofs'

/** A line for each hook with what is proved of it, each table's whole save path after its hooks. */
defineProps<{ lines: readonly ProofLine[]; chosen: string | undefined }>()
const emit = defineEmits<{ choose: [key: string] }>()

const figuresOf = (line: ProofLine): Record<string, Figure | null> =>
  line.hook === null
    ? { findings: null, tests: null, statements: null, branches: null, mistakes: null }
    : {
        findings: findingsFigure(line),
        tests: testsFigure(line),
        statements: shareFigure(line.coverage?.statements, 'statements'),
        branches: shareFigure(line.coverage?.branches, 'branches'),
        mistakes: mutantsFigure(line),
      }
const FIGURES = {
  findings: 'errors of types and known traps',
  tests: 'unit tests that run something of it',
  statements: 'share of its statements that a test runs',
  branches: 'share of its branches that a test runs',
  mistakes: 'small mistakes that a test notices',
}
</script>

<template>
  <div class="scroll list" tabindex="0" aria-label="Hooks and what is proved of them">
    <table class="plain-table">
      <thead>
        <tr>
          <th scope="col">hook</th>
          <th scope="col">table</th>
          <th scope="col">moment</th>
          <th v-for="(says, name) in FIGURES" :key="name" scope="col" :title="says">{{ name }}</th>
          <th v-for="property in BULK_PROPERTIES" :key="property" scope="col" :title="BULK_SAYS[property]">
            {{ HEADS[property] }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in lines" :key="line.key" :class="{ chosen: line.key === chosen, whole: !line.hook }">
          <td>
            <button type="button" class="link" :aria-current="line.key === chosen" @click="emit('choose', line.key)">
              {{ line.hook ?? `all of ${line.table}` }}
            </button>
          </td>
          <td class="mono small">{{ line.table }}</td>
          <td class="quiet small">{{ line.moment }}</td>
          <td v-for="(figure, name) in figuresOf(line)" :key="name" class="cell" :data-part="name">
            <span v-if="figure" :class="`figure ${figure.tone}`" :title="figure.says">{{ figure.text }}</span>
          </td>
          <td v-for="property in BULK_PROPERTIES" :key="property" class="cell">
            <span
              :class="`mark ${markOf(line.verdicts[property])}`"
              :title="`${property}: ${line.verdicts[property]?.reason ?? MARK_WORDS[markOf(line.verdicts[property])]}`"
              role="img"
              :aria-label="MARK_WORDS[markOf(line.verdicts[property])]"
              >{{ SIGNS[markOf(line.verdicts[property])] }}</span
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.list {
  height: 100%;
  padding: 0 12px 12px;
}
.plain-table th,
.plain-table td {
  padding-right: 9px;
}
.link {
  color: rgb(var(--v-theme-primary));
}
.chosen {
  background: rgba(var(--v-theme-primary), 0.12);
}
.whole td {
  border-bottom-width: 2px;
}
.cell {
  text-align: center;
  white-space: nowrap;
}
.mark {
  font-weight: 700;
}
.holds,
.good {
  color: rgb(var(--v-theme-success));
}
.accepted {
  color: rgb(var(--v-theme-warning));
}
.broken,
.bad {
  color: rgb(var(--v-theme-error));
}
.bad {
  font-weight: 600;
}
</style>
