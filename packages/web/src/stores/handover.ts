import type { InputRow } from '@patient-hook/contract'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { TriedGround } from '../lib/api'

/** Rows that one view hands to Rehearse, taken once. */
export const useHandover = defineStore('handover', () => {
  const waiting = shallowRef<{ rows: InputRow[]; ground: TriedGround } | null>(null)
  const give = (rows: InputRow[], ground: TriedGround) => (waiting.value = { rows, ground })
  function take() {
    const { value } = waiting
    waiting.value = null
    return value
  }
  return { give, take }
})
