import type { InputRow, Value } from '@patient-hook/contract'
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'

/** What is typed in a record's form and not saved yet: kept in the browser by record, so that neither another view nor a reload loses it. */

export interface RecordDraft {
  /** The rows of the save, each with the values that it was typed over (`expect`). */
  inputs: InputRow[]
}
export interface ChangedSince {
  field: string
  value: Value
}

/** Of a record that is not there yet. */
export const draftKey = (table: string, id: number | null): string => `${table} ${id ?? 'new'}`
/** Drafts that are kept; the oldest go. */
const MOST = 200

export const useRecordDrafts = defineStore('record-drafts', () => {
  const drafts = useLocalStorage<Record<string, RecordDraft>>('patient-hook:record-drafts', {})

  const of = (key: string): RecordDraft | null => (Object.hasOwn(drafts.value, key) ? drafts.value[key]! : null)

  function keep(key: string, draft: RecordDraft): void {
    const { [key]: _, ...others } = drafts.value
    drafts.value = Object.fromEntries([...Object.entries(others), [key, draft] as const].slice(-MOST))
  }

  function drop(key: string): void {
    if (!of(key)) return
    const { [key]: _, ...others } = drafts.value
    drafts.value = others
  }
  return { of, keep, drop }
})

/** Fields that are typed over, and hold another value by now than when that began. @param record as it is stored */
export const changedSince = (input: InputRow | undefined, record: Readonly<Record<string, Value>>): ChangedSince[] =>
  Object.entries(input?.expect ?? {}).flatMap(([field, before]) =>
    (record[field] ?? null) === before ? [] : [{ field, value: record[field] ?? null }],
  )
