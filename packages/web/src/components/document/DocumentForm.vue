<script setup lang="ts">
import type { ErrorReport, RowOut, Table } from '@patient-hook/contract'
import { computed } from 'vue'
import { ApiError, type TriedGround } from '../../lib/api'
import { useProject } from '../../stores/project'
import RowCard from './RowCard.vue'
import type { DocumentState, RowDraft } from './use-document'

/** The rows of one save, each as a form; what hooks would set and what is refused is in their fields. */
const props = defineProps<{
  document: DocumentState
  /** The rows of its latest rehearsal, and what it refused. */
  outcomes: readonly RowOut[]
  refusals: readonly ErrorReport[]
  ground: TriedGround
}>()
const emit = defineEmits<{ failed: [error: ErrorReport] }>()
const project = useProject()

const rows = computed(() => props.document.rows.value)
const places = computed(() => new Map(rows.value.map((row, index) => [row.key, index + 1])))
const outcomeOf = (index: number) => props.outcomes.find((row) => row.depth === 0 && row.row === index + 1)
const refusalsOf = (index: number) => props.refusals.filter((each) => each.row === index + 1)

async function addLines(row: RowDraft, table: Table, field: string): Promise<void> {
  try {
    await props.document.addLines(row, table, field)
  } catch (thrown) {
    if (!(thrown instanceof ApiError)) throw thrown
    emit('failed', thrown.report)
  }
}
</script>

<template>
  <RowCard
    v-for="(row, index) in rows"
    :key="row.key"
    :model-value="row.values"
    :row="row"
    :place="index + 1"
    :table="project.table(row.table)!"
    :outcome="outcomeOf(index)"
    :refusals="refusalsOf(index)"
    :ground="ground"
    :places="places"
    @update:model-value="(values) => document.change(row.key, { values })"
    @mode="(mode) => document.change(row.key, { mode })"
    @out="document.takeOut(row.key)"
    @line="(of, field) => document.addNew(of, { field, to: row })"
    @lines="(of, field) => addLines(row, of, field)"
  />
</template>
