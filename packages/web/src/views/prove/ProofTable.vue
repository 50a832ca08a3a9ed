<script setup lang="ts">
import { BULK_PROPERTIES, BULK_SAYS } from '@patient-hook/contract'
import { ICONS } from '../../theme/icons'
import PlainTable from '../../components/grid/PlainTable.vue'
import {
  HEADS,
  MARK_WORDS,
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
  findings: { head: 'found', says: 'type errors and findings' },
  tests: { head: 'passed', says: 'unit tests that run this hook' },
  statements: { head: 'statements', says: 'statements covered by tests' },
  branches: { head: 'branches', says: 'branches covered by tests' },
  mistakes: { head: 'caught', says: 'mutations caught by tests' },
}
const MARK_ICONS = { holds: ICONS.done, accepted: ICONS.warning, broken: ICONS.refused, none: ICONS.todo }
</script>

<template>
  <div class="scroll list" tabindex="0" aria-label="Proof of each hook">
    <PlainTable label="Proof of each hook">
      <thead>
        <tr>
          <th scope="col" colspan="3"></th>
          <th scope="colgroup" class="group">Findings</th>
          <th scope="colgroup" class="group">Tests</th>
          <th scope="colgroup" class="group" colspan="2">Coverage</th>
          <th scope="colgroup" class="group">Mutations</th>
          <th scope="colgroup" class="group" :colspan="BULK_PROPERTIES.length">Bulk safety</th>
        </tr>
        <tr>
          <th scope="col">hook</th>
          <th scope="col">table</th>
          <th scope="col">moment</th>
          <th v-for="({ head, says }, name) in FIGURES" :key="name" scope="col" class="cell" :title="says">{{ head }}</th>
          <th v-for="property in BULK_PROPERTIES" :key="property" scope="col" class="cell" :title="BULK_SAYS[property]">
            {{ HEADS[property] }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in lines" :key="line.key" :class="{ chosen: line.key === chosen, whole: !line.hook }">
          <td>
            <v-btn class="link" :aria-current="line.key === chosen" @click="emit('choose', line.key)">
              {{ line.hook ?? `all of ${line.table}` }}
            </v-btn>
          </td>
          <td class="mono small">{{ line.table }}</td>
          <td class="quiet small">{{ line.moment }}</td>
          <td v-for="(figure, name) in figuresOf(line)" :key="name" class="cell" :data-part="name">
            <span v-if="figure" :class="`figure ${figure.tone}`" :title="figure.says">{{ figure.text }}</span>
          </td>
          <td v-for="property in BULK_PROPERTIES" :key="property" class="cell">
            <v-icon
              v-if="markOf(line.verdicts[property]) !== 'none'"
              :class="`mark ${markOf(line.verdicts[property])}`"
              :icon="MARK_ICONS[markOf(line.verdicts[property])]"
              size="17"
              :title="`${property}: ${line.verdicts[property]?.reason ?? MARK_WORDS[markOf(line.verdicts[property])]}`"
              role="img"
              :aria-label="MARK_WORDS[markOf(line.verdicts[property])]"
            />
            <span v-else class="quiet" title="not run yet">–</span>
          </td>
        </tr>
      </tbody>
    </PlainTable>
  </div>
</template>

<style scoped>
.list {
  height: 100%;
  padding: 0 12px 12px;
}
/* All properties side by side at 1280 pixels. */
.list :deep(th),
.list :deep(td) {
  padding-right: 9px !important;
}
.group {
  text-align: center;
  border-left: 1px solid rgb(var(--v-theme-line));
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
